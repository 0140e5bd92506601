import { openArchive, type Archive } from '../../archive';
import { FormatError, memorySource } from '../../bytes';
import type { Primitives } from '../../primitives';
import { asInteger, asText, HeldRecord, ReadEvaluation, type Compiled, type Script } from '../../script';
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

const headOf = (archive: Archive): HeldRecord | undefined => {
  const row = archive.entries[0]?.row;
  return row instanceof HeldRecord ? row : undefined;
};

/** Fields of the head that are kept as they are and that an expression mentions. */
const carriedNumbers = (head: HeldRecord, of: Compiled): number[] =>
  head.type.fields
    .filter(
      ({ name, role, shape, repeat, condition }) =>
        role.sort === 'carried' && shape.sort === 'scalar' && !repeat && !condition && of.mentions.has(name),
    )
    .map(({ index }) => index);

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
  const context = archive.context as ReadEvaluation;
  const put = (of: Compiled | undefined, wanted: number, what: string): void => {
    context.forget();
    if (!of || Number(asInteger(of.run(context, head))) === wanted) return;
    const [field] = carriedNumbers(head, of);
    const { linear } = of;
    if (field === undefined || linear?.name === undefined) throw refuse(`${what} ${wanted}`);
    const value = (wanted - linear.plus) / linear.times;
    if (!Number.isInteger(value)) throw refuse(`${what} ${wanted}`);
    head.values[field] = value;
  };
  put(picture.width, shape.width, 'a width of');
  put(picture.height, shape.height, 'a height of');
  put(picture.levels, shape.levels, 'levels,');
  context.forget();
  return archive;
}
