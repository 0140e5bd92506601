import { openArchive, type Archive } from '@/core/archive';
import { FormatError, memorySource } from '@/core/bytes';
import type { Primitives } from '@/core/primitives';
import { asInteger, asText, ReadEvaluation, type Compiled, type Script } from '@/core/script';
import { carriedNumbers, headOf, putNumber } from '@/core/wrapped';
import { layouts } from './layouts';
import type { PixelLayout } from './pixel-layout';
import type { NewShape } from './texture';

/** A number of the head, and what it has to be for a layout. */
interface LayoutNumber {
  readonly field: number;
  readonly value: number | bigint;
}

/** Numbers up to this are tried in a field that has no named values. */
const MOST_TRIED = 256;

/** What the head has to say for each pixel layout that the script knows, found by trying. The archive is as it was afterwards. */
export function layoutNumbers(script: Script, archive: Archive): Map<PixelLayout, LayoutNumber> {
  const found = new Map<PixelLayout, LayoutNumber>();
  const head = headOf(archive);
  const { picture } = script;
  if (!head || !picture) return found;
  const context = archive.context as ReadEvaluation;
  for (const field of carriedNumbers(head, picture.layout)) {
    const was = head.values[field];
    const { choices } = head.type.fields[field]!;
    const values = choices ? [...choices.values()] : Array.from({ length: MOST_TRIED }, (_, value) => value);
    for (const value of [was, ...values]) {
      head.values[field] = value;
      context.forget();
      const layout = layouts.get(asText(picture.layout.run(context, head)));
      if (layout && !found.has(layout)) found.set(layout, { field, value: asInteger(value) });
    }
    head.values[field] = was;
  }
  context.forget();
  return found;
}

/** Opens a wrapped picture anew with a head that says another layout and size; its texels are still the old ones. */
export function withOtherHead(
  script: Script,
  bytes: Uint8Array,
  name: string,
  primitives: Primitives,
  shape: NewShape,
): Archive {
  const archive = openArchive(script, memorySource(bytes, name), { primitives });
  const head = headOf(archive);
  const { picture } = script;
  const number = layoutNumbers(script, archive).get(shape.layout);
  const refuse = (what: string): FormatError =>
    new FormatError('does-not-fit', {
      file: name,
      fieldPath: 'picture',
      expected: `a head that can say ${what}`,
      why: `${script.title} does not tell which number stands for it`,
    });
  if (!head || !picture || !number) throw refuse(shape.layout.title);
  head.values[number.field] = number.value;
  const put = (of: Compiled | undefined, wanted: number, what: string): void => {
    if (of && !putNumber(archive, head, of, wanted)) throw refuse(`${what} ${wanted}`);
  };
  put(picture.width, shape.width, 'a width of');
  put(picture.height, shape.height, 'a height of');
  put(picture.levels, shape.levels, 'levels,');
  (archive.context as ReadEvaluation).forget();
  return archive;
}
