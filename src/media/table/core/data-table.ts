import type { NumberNames } from '@/core/script';
import { isList, isRecord, type Cell } from './cell';

/** A column; a cell that a row has not is undefined. */
export interface Column {
  readonly name: string;
  readonly cells: readonly (Cell | undefined)[];
}

/** What a column is said to mean whose values are rows of its own table, whatever that is called. */
export const OWN_TABLE = 'itself';

/** What the values of a column mean. */
export interface ColumnSaid {
  /** The table whose rows they are, by its name without folder and ending, or `itself`. */
  readonly means: string | undefined;
  readonly called: NumberNames | undefined;
}

/** Names and numbers that lead to something in a document. */
export type Place = readonly (string | number)[];

/** Rows of one sort, kept by columns. */
export interface DataTable {
  /** What it is called within its file; empty where the file is the table. */
  readonly name: string;
  readonly columns: readonly Column[];
  readonly count: number;
  /** What a script says that values of columns mean: rows of a table, or numbers with names. */
  readonly said?: ReadonlyMap<string, ColumnSaid>;
  /** Columns whose cells are fields of a row that a script describes, and can be written so. */
  readonly writable?: ReadonlySet<string>;
  /** Where a cell stands in the document that the table was read from; undefined where it stands in none, as what a row is called by its name. */
  readonly placeOf?: (row: number, column: number) => Place | undefined;
}

/** What rows are called that a document keeps under names of their own. */
export const NAME_COLUMN = 'name of the row';
/** What rows without names for their cells have. */
const VALUE_COLUMN = 'value';
/** Tables within tables are looked for to this depth. */
const MOST_DEPTH = 4;

/**
 * The tables of a document: a list of records, records under names, or several of these under names of their own. What else a document says at its top is a table of one row.
 */
export function tablesIn(value: Cell, name = '', place: Place = []): DataTable[] {
  if (isList(value)) return value.length > 0 ? [ofList(value, name, place)] : [];
  if (!isRecord(value) || value.size === 0) return [];
  const own = [...value];
  if (own.length > 1 && own.every(([, one]) => isRecord(one)) && areAlike(own.map(([, one]) => one)))
    return [
      ofRecords(
        own.map(([key, one]) => new Map([[NAME_COLUMN, key], ...(one as Map<string, Cell>)])),
        name,
        (row) => [...place, own[row]![0]],
      ),
    ];
  const found: DataTable[] = [];
  const rest = new Map<string, Cell>();
  for (const [key, one] of own) {
    const isTable = (isList(one) && one.length > 0 && one.every(isRecord)) || isRecord(one);
    const within =
      isTable && place.length < MOST_DEPTH
        ? tablesIn(one, name === '' ? key : `${name}.${key}`, [...place, key])
        : [];
    if (within.length > 0) found.push(...within);
    else rest.set(key, one);
  }
  return rest.size > 0 ? [ofRecords([rest], name, () => place), ...found] : found;
}

/** Records of one sort share most of their names. */
function areAlike(all: readonly Cell[]): boolean {
  const counts = new Map<string, number>();
  for (const one of all)
    if (isRecord(one)) for (const key of one.keys()) counts.set(key, (counts.get(key) ?? 0) + 1);
  let shared = 0;
  for (const count of counts.values()) if (count * 2 >= all.length) shared++;
  return shared > 0 && shared * 2 >= counts.size;
}

function ofList(list: readonly Cell[], name: string, place: Place): DataTable {
  if (list.every(isRecord)) return ofRecords(list, name, (row) => [...place, row]);
  const cells = list.map((one) => (isList(one) ? one : [one]));
  const width = cells.reduce((most, row) => Math.max(most, row.length), 0);
  const isPlain = width === 1;
  const columns = Array.from({ length: Math.min(width, MOST_COLUMNS) }, (_, i) => ({
    name: isPlain ? VALUE_COLUMN : `${VALUE_COLUMN} ${i + 1}`,
    cells: cells.map((row) => row[i]),
  }));
  const placeOf = (row: number, column: number): Place =>
    isList(list[row]) ? [...place, row, column] : [...place, row];
  return { name, columns, count: list.length, placeOf };
}

/** Beyond this what is read is no table. */
const MOST_COLUMNS = 2000;

function ofRecords(
  records: readonly ReadonlyMap<string, Cell>[],
  name: string,
  placeOfRow: (row: number) => Place,
): DataTable {
  const columns = new Map<string, (Cell | undefined)[]>();
  for (const [row, record] of records.entries())
    for (const [key, cell] of record) {
      let cells = columns.get(key);
      if (!cells) {
        if (columns.size >= MOST_COLUMNS) continue;
        columns.set(key, (cells = new Array<Cell | undefined>(records.length)));
      }
      cells[row] = cell;
    }
  const own = [...columns].map(([key, cells]) => ({ name: key, cells }));
  return {
    name,
    columns: own,
    count: records.length,
    placeOf: (row, column) => {
      const key = own[column]!.name;
      return key === NAME_COLUMN ? undefined : [...placeOfRow(row), key];
    },
  };
}

/** A table from its columns' names and rows of cells, as files of lines have them. */
export const tableOfRows = (names: readonly string[], rows: readonly (readonly Cell[])[]): DataTable => ({
  name: '',
  columns: names.map((name, i) => ({ name, cells: rows.map((row) => row[i]) })),
  count: rows.length,
  placeOf: (row, column) => [row, column],
});

/** A value within a cell. */
export function valueWithin(cell: Cell | undefined, within: Place): Cell | undefined {
  let at = cell;
  for (const step of within)
    at = isList(at) ? at[Number(step)] : isRecord(at) ? at.get(String(step)) : undefined;
  return at;
}

/** What leads to a value, as fields are called: `near[]`, `from[].item`. */
export const fieldPath = (column: string, within: Place): string =>
  column + within.map((step) => (typeof step === 'number' ? '[]' : `.${step}`)).join('');
