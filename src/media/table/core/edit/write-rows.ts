import Papa from 'papaparse';
import { FormatError } from '@/core/bytes';
import { replaced, rowsOf, shellOf, type Span } from '@/media/text/core/lines';
import type { Cell } from '../cell';
import type { DataTable, Place } from '../data-table';
import { hasHeading, readOpenTables, type ReadTables } from '../read-open';
import { sameCell } from './compare-tables';
import { resizedList } from './resize-list';
import { writeCells } from './write-cells';

/** A row more, like another one, or one less. */
export interface RowEdit {
  /** What the table is called within its file. */
  readonly table: string;
  readonly row: number;
  readonly does: 'copy' | 'remove';
  /** What the copy is called by, and in which column. */
  readonly key?: { readonly column: string; readonly value: Cell };
}

export const notWritable = (
  file: string,
  { table, row }: RowEdit,
  expected: string,
  actual: string,
): FormatError =>
  new FormatError('not-writable', {
    ...{ file, fieldPath: `${table === '' ? '' : `${table}, `}row ${row + 1}`, expected, actual },
    remedy: 'Change it in an editor, and put the whole file into the mod',
  });

/**
 * A table file with a copy of a row behind all others, or without a row; all other rows stay byte for byte. Rows have to be records of a list, or lines of columns. What was written is read again, and nothing is given back
 * unless exactly that changed. Throws FormatError `not-writable` where the form has no place for it.
 */
export function writeRow(
  bytes: Uint8Array,
  name: string,
  edit: RowEdit,
  /** Reads tables, or knows them from before. */
  reads: typeof readOpenTables = readOpenTables,
): Uint8Array {
  const read = reads(bytes, name);
  const table = read?.tables.find((one) => one.name === edit.table);
  if (!read || !table || edit.row >= table.count)
    throw notWritable(name, edit, 'a row of CBOR, MessagePack, JSON, YAML or CSV', 'none');
  if (edit.does === 'remove' && table.count < 2)
    throw notWritable(name, edit, 'other rows beside it', 'the only row');
  const made = resized(bytes, name, read, edit, listOf(table, edit, read, name));
  if (!made) throw notWritable(name, edit, 'a list of records, or lines of columns', 'another form');
  const copy = table.count;
  const { key } = edit;
  const whole =
    edit.does === 'copy' && key
      ? writeCells(
          made,
          name,
          [{ table: edit.table, row: copy, column: key.column, within: [], value: key.value }],
          reads,
        )
      : made;
  refuseUnlike(read, reads(whole, name), name, edit);
  return whole;
}

/** The place of the list that rows stand in; undefined for lines of columns. */
function listOf(table: DataTable, edit: RowEdit, { form }: ReadTables, name: string): Place | undefined {
  if (form === 'CSV') return undefined;
  const column = table.columns.findIndex((_, i) => table.placeOf?.(edit.row, i) !== undefined);
  const place = table.placeOf?.(edit.row, column);
  const at = place?.lastIndexOf(edit.row) ?? -1;
  if (!place || at < 0 || at < place.length - 2)
    throw notWritable(name, edit, 'rows in a list', 'rows under names of their own');
  return place.slice(0, at);
}

function resized(
  bytes: Uint8Array,
  name: string,
  { form, tables }: ReadTables,
  { row, does, table }: RowEdit,
  list: Place | undefined,
): Uint8Array | undefined {
  const { count } = tables.find((one) => one.name === table)!;
  if (list)
    return resizedList(bytes, name, form, {
      ...{ list, count },
      ...(does === 'remove' ? { does, at: row } : { does: 'add', at: count, item: { like: [...list, row] } }),
    });
  const shell = shellOf(bytes);
  const span = shell && inColumns(shell.text, row, does, shell.lineEnd);
  return span && shell.wrap(replaced(shell.text, [span]));
}

function inColumns(text: string, row: number, does: RowEdit['does'], lineEnd: string): Span | undefined {
  const { data, meta } = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy' });
  const lines = rowsOf(text, meta.delimiter).filter(({ cells }) => cells.join('').trim() !== '');
  const below = lines.slice(hasHeading(data) ? 1 : 0);
  if (!below[row]) return undefined;
  const own = below[row]!;
  if (does === 'copy') {
    const last = below.at(-1)!;
    return { from: last.to, to: last.to, text: lineEnd + text.slice(own.from, own.to) };
  }
  const before = lines[lines.indexOf(own) - 1];
  return before
    ? { from: before.to, to: own.to, text: '' }
    : { from: own.from, to: below[row + 1]!.from, text: '' };
}

/** Refuses a file whose rows are not those before with exactly the one more or less. */
function refuseUnlike(read: ReadTables, again: ReadTables | undefined, name: string, edit: RowEdit): void {
  const refused = notWritable(
    name,
    edit,
    edit.does === 'copy' ? 'one row more, and all else as it was' : 'one row less, and all else as it was',
    'it would be read otherwise',
  );
  if (again?.form !== read.form || again.tables.length !== read.tables.length) throw refused;
  for (const [i, before] of read.tables.entries()) {
    const after = again.tables[i]!;
    const isIt = before.name === edit.table;
    const rows = [...Array(before.count).keys()];
    if (isIt && edit.does === 'remove') rows.splice(edit.row, 1);
    if (isIt && edit.does === 'copy') rows.push(edit.row);
    if (after.count !== rows.length || after.columns.length > before.columns.length) throw refused;
    for (const { name: called, cells } of before.columns) {
      const own = after.columns.find((one) => one.name === called)?.cells;
      const isSame = rows.every((from, to) => {
        const isKey = isIt && to === before.count && edit.key?.column === called;
        return sameCell(own?.[to], isKey ? edit.key!.value : cells[from]);
      });
      if (!isSame) throw refused;
    }
  }
}
