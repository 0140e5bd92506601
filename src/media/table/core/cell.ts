/** What stands in a cell of a table; a record within one keeps the order of its names. */
export type Cell = null | boolean | number | bigint | string | Uint8Array | readonly Cell[] | NestedRecord;

export interface NestedRecord extends ReadonlyMap<string, Cell> {
  readonly size: number;
}

/** Told by what it can do: a map that comes from another thread or from disk may be of another realm. */
export const isRecord = (cell: Cell | undefined): cell is NestedRecord =>
  typeof cell === 'object' && cell !== null && 'get' in cell;
export const isList = (cell: Cell | undefined): cell is readonly Cell[] => Array.isArray(cell);

const MOST_BYTES_SPELLED = 24;

/** A cell in a line, as lists show it. */
export function spelledCell(cell: Cell | undefined): string {
  if (cell === undefined || cell === null) return '';
  if (typeof cell === 'string') return cell;
  if (cell instanceof Uint8Array)
    return `${Array.from(cell.subarray(0, MOST_BYTES_SPELLED), (byte) => byte.toString(16).padStart(2, '0')).join(' ')}${
      cell.length > MOST_BYTES_SPELLED ? ` … ${cell.length} bytes` : ''
    }`;
  if (isList(cell)) return cell.map(spelledCell).join(', ');
  if (isRecord(cell)) return [...cell].map(([name, own]) => `${name} ${spelledCell(own)}`).join(', ');
  return String(cell);
}
