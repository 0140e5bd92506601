import { isList, isRecord, type Cell } from './cell';
import type { DataTable } from './data-table';

/** All that rows of a table have under one name, also within lists and records: `near[]`, `steps[].who`. */
export interface Field {
  readonly path: string;
  /** Numbers, and in which row each stands; a row may have several. */
  readonly numbers: Float64Array;
  readonly numberRows: Uint32Array;
  readonly texts: readonly string[];
  readonly textRows: Uint32Array;
  /** Rows that have something in it. */
  readonly filled: number;
  /** Whether a row has one at most. */
  readonly isSingle: boolean;
}

const MOST_DEPTH = 8;
/** So many fields of a table are gone through. */
const MOST_FIELDS = 500;
/** Longer texts are no names of anything. */
const MOST_NAME = 300;

interface Gathered {
  readonly numbers: number[];
  readonly numberRows: number[];
  readonly texts: string[];
  readonly textRows: number[];
  filled: number;
  last: number;
  isSingle: boolean;
}

/** The fields of a table with what stands in them. */
export function fieldsOf({ columns, count }: DataTable): Field[] {
  const found = new Map<string, Gathered>();
  const at = (path: string): Gathered | undefined => {
    let own = found.get(path);
    if (!own && found.size < MOST_FIELDS)
      found.set(
        path,
        (own = { numbers: [], numberRows: [], texts: [], textRows: [], filled: 0, last: -1, isSingle: true }),
      );
    return own;
  };
  const note = (own: Gathered | undefined, row: number, cell: Cell): void => {
    if (!own) return;
    if (typeof cell === 'number' && Number.isFinite(cell)) {
      own.numbers.push(cell);
      own.numberRows.push(row);
    } else if (typeof cell === 'bigint' || (typeof cell === 'string' && cell.length <= MOST_NAME)) {
      own.texts.push(String(cell));
      own.textRows.push(row);
    }
    if (own.last === row) own.isSingle = false;
    else own.filled++;
    own.last = row;
  };
  const walk = (path: string, row: number, cell: Cell | undefined, depth: number): void => {
    if (cell === undefined || cell === null || depth > MOST_DEPTH) return;
    if (isList(cell)) {
      const own = `${path}[]`;
      for (const one of cell) walk(own, row, one, depth + 1);
    } else if (isRecord(cell)) for (const [name, one] of cell) walk(`${path}.${name}`, row, one, depth + 1);
    else note(at(path), row, cell);
  };
  for (const { name, cells } of columns) {
    const own = at(name);
    for (let row = 0; row < count; row++) {
      const cell = cells[row];
      if (cell === undefined || cell === null) continue;
      if (typeof cell === 'object') walk(name, row, cell, 0);
      else note(own, row, cell);
    }
  }
  return [...found]
    .filter(([, { filled }]) => filled > 0)
    .map(([path, { numbers, numberRows, texts, textRows, filled, isSingle }]) => ({
      path,
      numbers: Float64Array.from(numbers),
      numberRows: Uint32Array.from(numberRows),
      texts,
      textRows: Uint32Array.from(textRows),
      filled,
      isSingle: isSingle && !path.includes('[]'),
    }));
}
