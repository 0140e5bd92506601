import type { TableFields } from './guess-links';
import type { ReferenceIndex } from './reference-index';

/** Rows of a table that nothing refers to, though others of it are. */
export interface UnreadRows {
  readonly table: number;
  readonly rows: readonly number[];
  /** Rows that something refers to. */
  readonly read: number;
  /** How sure it is that the rest is not read, from 0 to 1: the share of rows that are referred to. */
  readonly sureness: number;
}

/** A field that tells nothing. */
export interface IdleField {
  readonly table: number;
  readonly field: number;
  readonly why: 'the same in every row' | 'seldom there';
  readonly value: string;
  readonly rows: number;
  readonly sureness: number;
}

/** From so many rows on, one that is the same everywhere is told. */
const LEAST_ROWS = 4;
/** A table of which fewer rows are referred to is read from its beginning to its end, or in another way. */
const LEAST_READ = 0.5;

/** Rows that nothing refers to, in tables whose other rows are mostly referred to. Whether a program reads them by itself is not known; how sure it is follows from how many others are referred to. */
export function unreadRows(tables: readonly TableFields[], index: ReferenceIndex): UnreadRows[] {
  return tables.flatMap(({ count }, table) => {
    const rows: number[] = [];
    for (let row = 0; row < count; row++) if (index.countInto(index.rowOf(table, row)) === 0) rows.push(row);
    const read = count - rows.length;
    if (rows.length === 0 || read < LEAST_READ * count) return [];
    // With few rows the share says little (rule of succession).
    return [{ table, rows, read, sureness: (read + 1) / (count + 2) }];
  });
}

/** Fields that are the same in every row, or there in one of twenty: nothing can be told apart by them. */
export function idleFields(tables: readonly TableFields[]): IdleField[] {
  return tables.flatMap(({ fields, count }, table) =>
    fields.flatMap((field, number): IdleField[] => {
      if (count < LEAST_ROWS || !field.isSingle) return [];
      const values = new Set<number | string>([...field.numbers, ...field.texts]);
      const known = field.numbers.length + field.texts.length;
      const sureness = 1 - 1 / (count + 1);
      if (values.size === 1 && known === count)
        return [
          {
            ...{ table, field: number, why: 'the same in every row', value: String([...values][0]) },
            ...{ rows: count, sureness },
          },
        ];
      if (known > 0 && known * 20 <= count)
        return [
          {
            ...{ table, field: number, why: 'seldom there', value: String([...values][0]) },
            ...{ rows: known, sureness: 1 - known / count },
          },
        ];
      return [];
    }),
  );
}
