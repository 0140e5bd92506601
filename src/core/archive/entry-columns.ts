import { hexOf64 } from '../bytes';
import { asText, bare, tableInputs, type Compiled, type RowTable } from '../script';

/** A whole column of counts, or undefined where one is none or an expression needs more than columns. */
export function columnOf(of: Compiled, table: RowTable): Float64Array | undefined {
  const column = of.column?.(tableInputs(table, undefined, 0, table.length));
  if (!column) return undefined;
  const alone = table.parts.type.fields[fieldAlone(of, table)]?.shape;
  if (alone?.sort === 'scalar' && alone.scalar.name.startsWith('u')) return column;
  // Not for…of, which takes three times as long over a million numbers.
  for (let i = 0; i < column.length; i++) if (!(column[i]! >= 0)) return undefined;
  return column;
}

/** The field that an expression is nothing but, or -1. */
function fieldAlone(of: Compiled, { parts }: RowTable): number {
  const { linear } = of;
  if (linear?.name === undefined || linear.times !== 1 || linear.plus !== 0) return -1;
  return parts.type.byName.get(linear.name) ?? -1;
}

/** Texts that can be read when they are asked for, since nothing can be wrong with them. */
export function laterText(of: Compiled | undefined, table: RowTable): ((row: number) => string) | undefined {
  const index = of ? fieldAlone(of, table) : -1;
  const sort = table.parts.type.fields[index]?.shape.sort;
  if (sort !== 'text' && sort !== 'ended text') return undefined;
  return (row) => asText(bare(table.value(row, index)));
}

export function laterNumber(
  of: Compiled | undefined,
  table: RowTable,
): ((row: number) => string) | undefined {
  const index = of ? fieldAlone(of, table) : -1;
  const shape = table.parts.type.fields[index]?.shape;
  if (shape?.sort !== 'scalar' || shape.scalar.name.startsWith('f')) return undefined;
  return (row) => hexOf64(table.number(row, index));
}
