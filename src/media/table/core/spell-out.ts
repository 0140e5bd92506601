import Papa from 'papaparse';
import { isList, isRecord, spelledCell, type Cell } from './cell';
import type { DataTable } from './data-table';

/** A cell as JSON has it: bytes as hexadecimal digits, numbers beyond 53 bits as texts. */
function plainCell(cell: Cell | undefined): unknown {
  if (cell === undefined) return null;
  if (typeof cell === 'bigint') return cell.toString();
  if (cell instanceof Uint8Array)
    return Array.from(cell, (byte) => byte.toString(16).padStart(2, '0')).join('');
  if (isList(cell)) return cell.map(plainCell);
  if (isRecord(cell)) return Object.fromEntries([...cell].map(([name, own]) => [name, plainCell(own)]));
  return cell;
}

/** A row as a record; what it has not is left out. */
export const plainRow = ({ columns }: DataTable, row: number): Record<string, unknown> =>
  Object.fromEntries(
    columns.flatMap(({ name, cells }) => (cells[row] === undefined ? [] : [[name, plainCell(cells[row])]])),
  );

/** A table as JSON, a line a row. */
export const tableAsJson = (table: DataTable): string =>
  table.count === 0
    ? '[]'
    : `[\n${Array.from({ length: table.count }, (_, row) => ` ${JSON.stringify(plainRow(table, row))}`).join(',\n')}\n]`;

/** The cells of rows as texts, with the names of columns before them. */
export function* tableAsRows({ columns, count }: DataTable): Generator<string[]> {
  yield columns.map(({ name }) => name);
  for (let row = 0; row < count; row++) yield columns.map(({ cells }) => spelledCell(cells[row]));
}

/** A table as CSV (RFC 4180); what a table program would take for a formula begins with an apostrophe. */
export const tableAsCsv = (table: DataTable): string =>
  `${Papa.unparse([...tableAsRows(table)], { escapeFormulae: true, newline: '\n' })}\n`;
