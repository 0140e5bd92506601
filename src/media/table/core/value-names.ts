import { readNumberNames, readYaml, type NumberNames } from '@/core/script';
import type { Cell } from './cell';

/** What the numbers of a field are called: one of several, or each of its bits. */
export interface ValueNames extends NumberNames {
  /** The table by its name without folder and ending, and the field of it. */
  readonly table: string;
  readonly field: string;
}

/** What the text of such names begins with. */
export const VALUES_OF = 'values of';

/** Reads what numbers of a field are called. Throws FormatError `script-wrong` with line, column and what was expected. */
export function parseValueNames(text: string): ValueNames {
  const top = readYaml(text);
  top.entries([VALUES_OF, 'names', 'flags']);
  const about = top.need(VALUES_OF);
  // Fields within lists and records have dots of their own: `recipes.from[].count`.
  const [, table, field] = /^([^.]+)\.(.+)$/.exec(about.text()) ?? [];
  if (table === undefined || field === undefined)
    return about.fail('a table and its field, as people.mood', `'${about.text()}'`);
  return { table, field, ...(readNumberNames(top) ?? top.need('names').fail('names', 'none')) };
}

/** What a value is called; undefined where it has no name. Of flags all that are set, with what is left of them as a number. */
export function calledValue({ names, areFlags }: NumberNames, value: Cell | undefined): string | undefined {
  if (typeof value !== 'number') return undefined;
  if (!areFlags) return names.get(value);
  if (!Number.isSafeInteger(value) || value <= 0) return names.get(value);
  // Larger than 32 bits can be told by division only.
  const isSet = (bit: number): boolean => Math.floor(value / bit) % 2 === 1;
  const set = [...names].filter(([bit]) => isSet(bit)).sort(([a], [b]) => a - b);
  const rest = set.reduce((left, [bit]) => left - bit, value);
  const said = [...set.map(([, name]) => name), ...(rest > 0 && set.length > 0 ? [String(rest)] : [])];
  return set.length > 0 ? said.join(', ') : undefined;
}
