import type { Cell } from './cell';
import type { Field } from './fields';
import { calledValue, type ValueNames } from './value-names';

/** What is found of a value that is given for a cell: `wrong` would not be read as it is meant, `look` may be meant so. */
export interface CellFinding {
  readonly state: 'wrong' | 'look';
  readonly what: string;
  readonly why: string;
  /** Whether nothing can be written for it, whatever is said. */
  readonly isRefused?: true;
}

/** What a value has to go with. */
export interface CellRules {
  readonly before: Cell | undefined;
  /** The field that it stands in, with all its values as they are. */
  readonly field: Pick<Field, 'numbers'> | undefined;
  /** The table whose rows it means, and whether one is called so; undefined where it means none. */
  readonly means: { readonly table: string; readonly has: (value: Cell) => boolean } | undefined;
  /** What its numbers are called, where they have names. */
  readonly names: ValueNames | undefined;
  /** Whether rows are called by it; with how many others are called like the new value, and how many places name the row by the old one. */
  readonly key: { readonly others: number; readonly named: number } | undefined;
}

export type ReadValue = { readonly value: Cell } | { readonly finding: CellFinding };

const wrong = (what: string, why: string): ReadValue => ({
  finding: { state: 'wrong', what, why, isRefused: true },
});

const NUMBER = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?$/i;

/** A value of the sort that stands in a cell, from what somebody writes. */
export function readValue(text: string, before: Cell | undefined): ReadValue {
  if (typeof before === 'string') return { value: text };
  const said = text.trim();
  if (typeof before === 'boolean') {
    if (/^(?:true|false)$/i.test(said)) return { value: said.toLowerCase() === 'true' };
    return wrong(`${said || 'nothing'} is neither true nor false`, 'One of the two stands there');
  }
  if (before instanceof Uint8Array) {
    const pairs = said.replace(/\s+/g, '');
    if (/^(?:[0-9a-f]{2})*$/i.test(pairs))
      return { value: Uint8Array.from(pairs.match(/../g) ?? [], (pair) => Number.parseInt(pair, 16)) };
    return wrong('These are no bytes', 'Bytes are written as pairs of the digits 0 to 9 and a to f');
  }
  if (before === undefined || (typeof before === 'object' && before !== null))
    return wrong('Nothing that can be written stands there', 'A list or record is changed value by value');
  if (before === null && said === '') return { value: null };
  if (!NUMBER.test(said))
    return before === null
      ? { value: text }
      : wrong(`${said || 'Nothing'} is no number`, 'A number stands there');
  const number = Number(said);
  if (/^[+-]?\d+$/.test(said) && !Number.isSafeInteger(number)) {
    const big = BigInt(said);
    // What is kept as a number with a fraction may be a large whole one.
    const isNumber = BigInt(number) === big || String(number) === said.replace(/^\+/, '');
    if (typeof before !== 'bigint' && isNumber) return { value: number };
    if (big >= -(2n ** 63n) && big < 2n ** 64n) return { value: big };
    return wrong(`${said} is too large`, 'No form of tables has whole numbers beyond 64 bits');
  }
  if (!Number.isFinite(number)) return wrong(`${said} is too large`, 'It would be read as endless');
  return { value: number };
}

/** What is found of a value of the right sort: a row that is not there, a name that others have, a number like none beside it. */
export function checkCell(value: Cell, { before, field, means, names, key }: CellRules): CellFinding[] {
  const found: CellFinding[] = [];
  const isNone = value === 0 || value === -1 || value === '' || value === null;
  if (means && !isNone && !means.has(value))
    found.push({
      state: 'wrong',
      what: `${String(value as string)} is no row of ${means.table}`,
      why: 'What reads this cell would find nothing',
    });
  if (key && key.others > 0)
    found.push({
      state: 'wrong',
      what: `Another row is called ${String(value as string)}`,
      why: 'Who asks for one of the two may get the other',
    });
  if (key && key.named > 0)
    found.push({
      state: 'look',
      what: `${key.named} ${key.named === 1 ? 'place names' : 'places name'} this row by ${String(before as string)}`,
      why: 'They would lead nowhere until they are changed as well',
    });
  if (names && !isNone && calledValue(names, value) === undefined)
    found.push({
      state: 'look',
      what: `${String(value as string)} has no name`,
      why: `It is none of ${[...names.names.values()].slice(0, 8).join(', ')}`,
    });
  else if (typeof value === 'number' && field && field.numbers.length > 1 && !means && !key && !names) {
    const { numbers } = field;
    let [least, most, isWhole] = [Infinity, -Infinity, true];
    for (const one of numbers) {
      if (one < least) least = one;
      if (one > most) most = one;
      if (!Number.isInteger(one)) isWhole = false;
    }
    if (isWhole && !Number.isInteger(value))
      found.push({
        state: 'look',
        what: `${value} has a fraction`,
        why: 'All others beside it are whole numbers, and what reads them may take no other',
      });
    if (value < least || value > most)
      found.push({
        state: 'look',
        what: `${value} is outside of ${least} to ${most}`,
        why: 'No other row has such a number here',
      });
  }
  return found;
}
