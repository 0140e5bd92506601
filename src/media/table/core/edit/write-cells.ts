import Papa from 'papaparse';
import { FormatError } from '@/core/bytes';
import { shellOf } from '@/media/text/core/lines';
import type { Cell } from '../cell';
import { spelledCell } from '../cell';
import { valueWithin, type DataTable, type Place } from '../data-table';
import { hasHeading, readOpenTables, type ReadTables } from '../read-open';
import { cborSpans, writeCborCells } from './cbor-cells';
import { compareTables, sameCell } from './compare-tables';
import { packSpans, writePackCells } from './pack-cells';
import { writeColumnCells, writeJsonCells, writeKeyedCells, writeYamlCells } from './text-cells';
import type { CellEdit } from './wanted';

/** Another value for a cell of a table, or for what stands within it. */
export interface TableEdit {
  /** What the table is called within its file. */
  readonly table: string;
  readonly row: number;
  readonly column: string;
  /** What leads to it within its cell. */
  readonly within: Place;
  readonly value: Cell;
}

/**
 * A table file with other values in cells; all else of it stays byte for byte. What was written is read again, and nothing is given back unless exactly these values changed.
 * Throws FormatError `not-writable` where the form has no place for it, or where the file would be read otherwise.
 */
export function writeCells(
  bytes: Uint8Array,
  name: string,
  edits: readonly TableEdit[],
  /** Reads tables, or knows them from before. */
  reads: typeof readOpenTables = readOpenTables,
): Uint8Array {
  const read = reads(bytes, name);
  if (!read)
    throw new FormatError('not-writable', {
      ...{ file: name, expected: 'CBOR, MessagePack, JSON, YAML, CSV or INI', actual: 'another form' },
      remedy: 'Change it with the program of the game, and put the whole file into the mod',
    });
  const placed = lastOfEach(edits).map((edit): CellEdit & { edit: TableEdit } => ({
    ...{ edit, value: edit.value },
    place: placeIn(read, edit, name),
  }));
  const { bytes: made, written } = writeForm(bytes, name, read, placed);
  if (written !== placed.length) throw notWritten(name, placed[0]!.edit, 'a value that is written there');
  const again = reads(made, name);
  refuseUnlike(
    read.tables,
    again?.form === read.form ? again.tables : [],
    name,
    placed.map(({ edit }) => edit),
  );
  return made;
}

/** Of several edits of one value the last counts. */
export function lastOfEach(edits: readonly TableEdit[]): TableEdit[] {
  const found = new Map<string, TableEdit>();
  for (const edit of edits) found.set(JSON.stringify([edit.table, edit.row, edit.column, edit.within]), edit);
  return [...found.values()];
}

export const calledIn = ({ table, row, column, within }: TableEdit): string =>
  [...(table === '' ? [] : [table]), `row ${row + 1}`, column, ...within].join(', ');

export const notWritten = (file: string, edit: TableEdit, expected: string): FormatError =>
  new FormatError('not-writable', {
    ...{ file, fieldPath: calledIn(edit), expected, actual: 'none' },
    remedy: 'Change it in an editor, and put the whole file into the mod',
  });

function placeIn({ tables }: ReadTables, edit: TableEdit, file: string): Place {
  const table = tables.find(({ name }) => name === edit.table);
  const column = table?.columns.findIndex(({ name }) => name === edit.column) ?? -1;
  if (!table || column < 0 || edit.row >= table.count) throw notWritten(file, edit, 'a cell of the table');
  const place = table.placeOf?.(edit.row, column);
  if (!place) throw notWritten(file, edit, 'a cell with a place of its own');
  return [...place, ...edit.within];
}

function writeForm(
  bytes: Uint8Array,
  name: string,
  { form }: ReadTables,
  edits: readonly CellEdit[],
): { readonly bytes: Uint8Array; readonly written: number } {
  if (form === 'CBOR') {
    const spans = cborSpans(bytes, edits);
    return { bytes: writeCborCells(bytes, spans), written: spans.length };
  }
  if (form === 'MessagePack') {
    const spans = packSpans(bytes, edits, name);
    return { bytes: writePackCells(bytes, spans), written: spans.length };
  }
  const shell = shellOf(bytes);
  if (!shell) return { bytes, written: 0 };
  if (form === 'INI') return writeKeyedCells(shell, edits) ?? { bytes, written: 0 };
  let made;
  if (form === 'JSON') made = writeJsonCells(shell, edits);
  else if (form === 'YAML') made = writeYamlCells(shell, edits);
  else {
    const { data, meta } = Papa.parse<string[]>(shell.text, { skipEmptyLines: 'greedy' });
    made = writeColumnCells(shell, edits, { sign: meta.delimiter, hasHeading: hasHeading(data) });
  }
  return { bytes: shell.wrap(made.text), written: made.written };
}

/** Refuses tables that are anything but those before with exactly these values otherwise. Throws FormatError `not-writable`. */
export function refuseUnlike(
  tables: readonly DataTable[],
  again: readonly DataTable[],
  file: string,
  edits: readonly TableEdit[],
): void {
  const unlike = (edit: TableEdit): FormatError =>
    new FormatError('not-writable', {
      ...{ file, fieldPath: calledIn(edit) },
      expected: `${spelledCell(edit.value)} to be read there, and all else as it was`,
      actual: 'it would be read otherwise',
      remedy: 'Give a value of the sort that stands there, or change it in an editor',
    });
  if (again.length !== tables.length) throw unlike(edits[0]!);
  const open = new Map(
    edits.map((edit) => [JSON.stringify([edit.table, edit.row, edit.column, edit.within]), edit]),
  );
  tables.forEach((table: DataTable, i) => {
    const { cells, added, removed, columnsAdded, columnsRemoved } = compareTables(table, again[i]!);
    if (added.length + removed.length + columnsAdded.length + columnsRemoved.length > 0)
      throw unlike(edits[0]!);
    for (const { row, column, within, after } of cells) {
      const id = JSON.stringify([table.name, row, column, within]);
      const edit = open.get(id);
      if (!edit || !sameCell(edit.value, after)) throw unlike(edit ?? edits[0]!);
    }
  });
  for (const edit of edits) {
    const table = again.find(({ name }) => name === edit.table)!;
    const cell = table.columns.find(({ name }) => name === edit.column)?.cells[edit.row];
    if (!sameCell(valueWithin(cell, edit.within), edit.value)) throw unlike(edit);
  }
}
