import type { Kind } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import { decodeAnyText } from '@/core/media/text';
import type { Conversion, Recipe } from '@/core/recipe';
import { pixelsOf, toPng } from '../preview';

/** One way to change the plain bytes of an entry. */
interface Converter {
  /** Ending of the file, with its point; undefined where it keeps its own. */
  readonly ending: string | undefined;
  convert(bytes: Uint8Array, path: string): Promise<Uint8Array> | Uint8Array;
}

/** All ways to change something; one line a way. Kinds that are to come plug in here. */
const CONVERTERS: Readonly<Partial<Record<Conversion, Converter>>> = {
  png: { ending: '.png', convert: async (bytes, path) => toPng(await pixelsOf(bytes, path)) },
  'utf-8': { ending: undefined, convert: (bytes, path) => new TextEncoder().encode(textOf(bytes, path)) },
  pretty: {
    ending: undefined,
    convert(bytes, path) {
      const text = textOf(bytes, path);
      try {
        return new TextEncoder().encode(`${JSON.stringify(JSON.parse(text), null, 2)}\n`);
      } catch {
        // A text that is no JSON is only made UTF-8.
        return new TextEncoder().encode(text);
      }
    },
  },
};

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

/** How a recipe changes entries of a kind. */
export function conversionOf({ convert }: Recipe, kind: Kind): Conversion {
  if (kind === 'picture') return convert.picture;
  if (kind === 'text') return convert.text;
  return 'stored';
}

export const converterOf = (conversion: Conversion): Converter | undefined => CONVERTERS[conversion];
