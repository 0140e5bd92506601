import { FormatError } from '@/core/bytes';
import { decodeAnyText } from '@/media/text/core/encoding';
import { inMemory } from '@/platform/node/convert/converter';

function textOf(bytes: Uint8Array, path: string): string {
  const text = decodeAnyText(bytes);
  if (!text)
    throw new FormatError('bad-value', {
      file: path,
      expected: 'a text',
      actual: 'data',
      remedy: 'Take texts as they are stored',
    });
  return text.text;
}

const encoded = (text: string): Uint8Array => new TextEncoder().encode(text);

export const toUtf8 = inMemory(undefined, (bytes, path) => encoded(textOf(bytes, path)));

/** JSON with a line for each value; a text that is no JSON is only made UTF-8. */
export const toPretty = inMemory(undefined, (bytes, path) => {
  const text = textOf(bytes, path);
  try {
    return encoded(`${JSON.stringify(JSON.parse(text), null, 2)}\n`);
  } catch {
    return encoded(text);
  }
});
