import { isList, isRecord, type Cell } from '../cell';
import type { DataTable, Place } from '../data-table';

/** A value that is another one in another state of a table. */
export interface CellChange {
  /** The row before, and the same row after. */
  readonly row: number;
  readonly rowAfter: number;
  readonly column: string;
  /** What leads to it within its cell. */
  readonly within: Place;
  readonly before: Cell | undefined;
  readonly after: Cell | undefined;
}

export interface TableChanges {
  readonly cells: readonly CellChange[];
  /** Rows that are there only after, and only before. */
  readonly added: readonly number[];
  readonly removed: readonly number[];
  /** Rows that others stand before or behind. */
  readonly isMoved: boolean;
  /** Columns that are there only after, and only before. */
  readonly columnsAdded: readonly string[];
  readonly columnsRemoved: readonly string[];
}

export function sameCell(a: Cell | undefined, b: Cell | undefined): boolean {
  if (a === b) return true;
  // A whole number beyond 53 bits that a number of the engine happens to hold may be read as either.
  if (typeof a === 'bigint' && typeof b === 'number') return Number.isInteger(b) && BigInt(b) === a;
  if (typeof a === 'number' && typeof b === 'bigint') return Number.isInteger(a) && BigInt(a) === b;
  if (typeof a !== typeof b || typeof a !== 'object' || typeof b !== 'object' || a === null || b === null)
    return typeof a === 'number' && typeof b === 'number' && Object.is(a, b);
  if (a instanceof Uint8Array || b instanceof Uint8Array)
    return (
      a instanceof Uint8Array &&
      b instanceof Uint8Array &&
      a.length === b.length &&
      a.every((byte, i) => byte === b[i])
    );
  if (isList(a) || isList(b))
    return isList(a) && isList(b) && a.length === b.length && a.every((one, i) => sameCell(one, b[i]));
  if (!isRecord(a) || !isRecord(b) || a.size !== b.size) return false;
  for (const [name, one] of a) if (!b.has(name) || !sameCell(one, b.get(name))) return false;
  return true;
}

/** What differs between two states of one cell, as deep as both are built alike. */
function differences(
  before: Cell | undefined,
  after: Cell | undefined,
  within: Place,
  note: (within: Place, before: Cell | undefined, after: Cell | undefined) => void,
): void {
  if (sameCell(before, after)) return;
  if (isList(before) && isList(after) && before.length === after.length)
    before.forEach((one, i) => differences(one, after[i], [...within, i], note));
  else if (isRecord(before) && isRecord(after))
    for (const name of new Set([...before.keys(), ...after.keys()]))
      differences(before.get(name), after.get(name), [...within, name], note);
  else note(within, before, after);
}

/** What rows are told apart by; undefined where values are missing or stand twice. */
function rowsByKey({ columns, count }: DataTable, key: string): Map<Cell, number> | undefined {
  const cells = columns.find(({ name }) => name === key)?.cells;
  if (!cells) return undefined;
  const rows = new Map<Cell, number>();
  for (let row = 0; row < count; row++) {
    const cell = cells[row];
    if ((typeof cell !== 'string' && typeof cell !== 'number') || rows.has(cell)) return undefined;
    rows.set(cell, row);
  }
  return rows;
}

/** What differs between two states of a table. Rows are the same where what they are called by is, else where their number is. */
export function compareTables(before: DataTable, after: DataTable, key?: string): TableChanges {
  const keyed = key === undefined ? undefined : rowsByKey(before, key);
  const keyedAfter = key === undefined || !keyed ? undefined : rowsByKey(after, key);
  const pairs: [number, number][] = [];
  const added: number[] = [];
  const removed: number[] = [];
  let isMoved = false;
  if (keyed && keyedAfter) {
    let last = -1;
    for (const [name, row] of keyed) {
      const now = keyedAfter.get(name);
      if (now === undefined) removed.push(row);
      else {
        pairs.push([row, now]);
        if (now < last) isMoved = true;
        last = Math.max(last, now);
      }
    }
    for (const [name, row] of keyedAfter) if (!keyed.has(name)) added.push(row);
  } else {
    const shared = Math.min(before.count, after.count);
    for (let row = 0; row < shared; row++) pairs.push([row, row]);
    for (let row = shared; row < after.count; row++) added.push(row);
    for (let row = shared; row < before.count; row++) removed.push(row);
  }
  const was = new Map(before.columns.map(({ name, cells }) => [name, cells]));
  const is = new Map(after.columns.map(({ name, cells }) => [name, cells]));
  const cells: CellChange[] = [];
  const names = [...new Set([...was.keys(), ...is.keys()])];
  for (const [row, rowAfter] of pairs)
    for (const column of names)
      differences(was.get(column)?.[row], is.get(column)?.[rowAfter], [], (within, one, other) =>
        cells.push({ row, rowAfter, column, within, before: one, after: other }),
      );
  return {
    ...{ cells, added, removed, isMoved },
    columnsAdded: [...is.keys()].filter((name) => !was.has(name)),
    columnsRemoved: [...was.keys()].filter((name) => !is.has(name)),
  };
}
