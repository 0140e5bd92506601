import type { Column } from './columns-file';

/** What is kept of each entry, a line a column: its name in memory and in files, and its numbers. */
const FIELDS = {
  /** Number of the entry in its archive. */
  numbers: Uint32Array,
  /** Plain and stored sizes in bytes. */
  sizes: Float64Array,
  stored: Float64Array,
  /** Seconds since 1970; NaN where the archive does not say it. */
  modified: Float64Array,
  /** Codes of kinds. */
  kinds: Uint8Array,
  /** Bits of FLAG. */
  flags: Uint8Array,
  /** Hash of the name as two halves, where the flag says there is one. */
  hashLow: Uint32Array,
  hashHigh: Uint32Array,
} as const;

type Field = keyof typeof FIELDS;
export type EntryColumns = { readonly [F in Field]: InstanceType<(typeof FIELDS)[F]> };

const NAMES = Object.keys(FIELDS) as Field[];

function columnsBy(make: (name: Field) => Column): EntryColumns {
  return Object.fromEntries(NAMES.map((name) => [name, make(name)])) as unknown as EntryColumns;
}

/** Columns of so many rows, all 0. */
export const emptyColumns = (count: number): EntryColumns => columnsBy((name) => new FIELDS[name](count));

/** Columns as they are read one by one, by their names. */
export const readEntryColumns = (read: (name: string) => Column): EntryColumns => columnsBy(read);

/** The rows in another order, or some of them; `order` has the row that comes to each place. */
export const inOrder = (columns: EntryColumns, order: Uint32Array): EntryColumns =>
  columnsBy((name) => {
    const from = columns[name];
    const to = new FIELDS[name](order.length);
    for (let i = 0; i < order.length; i++) to[i] = from[order[i]!]!;
    return to;
  });

/** Rows of several columns together: to each place comes the row `rowOf` of the columns `of`. */
export const gathered = (all: readonly EntryColumns[], of: Uint16Array, rowOf: Uint32Array): EntryColumns =>
  columnsBy((name) => {
    const columns = all.map((one) => one[name]);
    const to = new FIELDS[name](of.length);
    for (let i = 0; i < of.length; i++) to[i] = columns[of[i]!]![rowOf[i]!]!;
    return to;
  });
