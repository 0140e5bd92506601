import type { Archive } from '../archive';
import { bare, HeldRecord, ReadEvaluation, type Compiled } from '../script';

/** The record that an entry's row is, where it is one by itself: its numbers can be set. */
export const headOf = (archive: Archive): HeldRecord | undefined => {
  const row = archive.entries[0]?.row;
  return row instanceof HeldRecord ? row : undefined;
};

/** Fields of a record that are kept as they are and that an expression mentions. */
export const carriedNumbers = (head: HeldRecord, of: Compiled): number[] =>
  head.type.fields
    .filter(
      ({ name, role, shape, repeat, condition }) =>
        role.sort === 'carried' && shape.sort === 'scalar' && !repeat && !condition && of.mentions.has(name),
    )
    .map(({ index }) => index);

const kindOf = (head: HeldRecord, field: number): string => {
  const { shape } = head.type.fields[field]!;
  return shape.sort === 'scalar' ? shape.scalar.name : '';
};

/**
 * Sets the number of a record that an expression follows from, so that it gives `wanted`; the expression must be a number times and plus
 * constants. False where no number of the record can say it; the record is as it was then.
 */
export function putNumber(archive: Archive, head: HeldRecord, of: Compiled, wanted: number): boolean {
  const context = archive.context as ReadEvaluation;
  context.forget();
  if (Number(bare(of.run(context, head))) === wanted) return true;
  const [field] = carriedNumbers(head, of);
  const { linear } = of;
  if (field === undefined || linear?.name === undefined) return false;
  const value = (wanted - linear.plus) / linear.times;
  const isReal = /^f/.test(kindOf(head, field));
  if (!isReal && !Number.isInteger(value)) return false;
  head.values[field] = value;
  context.forget();
  return true;
}
