import { FormatError } from '@/core/bytes';
import { isList, isRecord, type Cell } from '../cell';
import { valueWithin, type Place } from '../data-table';
import { readOpenTables, type ReadTables } from '../read-open';
import { sameCell } from './compare-tables';
import { resizedList } from './resize-list';

/** An item more in a list within a cell, behind one that it is like, or one less. */
export interface ItemEdit {
  /** What the table is called within its file. */
  readonly table: string;
  readonly row: number;
  readonly column: string;
  /** What leads to the list within its cell. */
  readonly within: Place;
  readonly at: number;
  readonly does: 'copy' | 'remove';
}

const calledIn = ({ table, row, column, within, at }: ItemEdit): string =>
  [...(table === '' ? [] : [table]), `row ${row + 1}`, column, ...within, `item ${at + 1}`].join(', ');

/**
 * A table file with an item more or less in a list within a cell; all else of it stays byte for byte. What was written is read again, and nothing is given back unless exactly that changed.
 * Throws FormatError `not-writable` where there is no such list, or its form has no place for that.
 */
export function writeItem(
  bytes: Uint8Array,
  name: string,
  edit: ItemEdit,
  /** Reads tables, or knows them from before. */
  reads: typeof readOpenTables = readOpenTables,
): Uint8Array {
  const refused = (expected: string, actual: string): FormatError =>
    new FormatError('not-writable', {
      ...{ file: name, fieldPath: calledIn(edit), expected, actual },
      remedy: 'Change it in an editor, and put the whole file into the mod',
    });
  const read = reads(bytes, name);
  const table = read?.tables.find((one) => one.name === edit.table);
  const column = table?.columns.findIndex((one) => one.name === edit.column) ?? -1;
  const cell = table?.columns[column]?.cells[edit.row];
  const list = valueWithin(cell, edit.within);
  const place = column < 0 ? undefined : table?.placeOf?.(edit.row, column);
  if (!read || !place || !isList(list) || edit.at >= list.length)
    throw refused('an item of a list within a cell of CBOR, MessagePack, JSON or YAML', 'none');
  const { at, does } = edit;
  const made = resizedList(bytes, name, read.form, {
    ...{ list: [...place, ...edit.within], count: list.length, at, does, behind: at },
  });
  if (!made) throw refused('a list whose items stand by themselves', 'another form');
  const wanted = withItem(cell!, edit.within, edit);
  if (!isAsWanted(read, reads(made, name), edit, wanted))
    throw refused(
      does === 'copy' ? 'one item more, and all else as it was' : 'one item less, and all else as it was',
      'it would be read otherwise',
    );
  return made;
}

/** A cell with an item more or less in a list within it. */
function withItem(cell: Cell, within: Place, edit: Pick<ItemEdit, 'at' | 'does'>): Cell {
  const { at, does } = edit;
  const [step, ...rest] = within;
  if (step === undefined) {
    const list = [...(cell as readonly Cell[])];
    if (does === 'copy') list.splice(at + 1, 0, list[at]!);
    else list.splice(at, 1);
    return list;
  }
  if (isRecord(cell))
    return new Map([...cell].map(([key, own]) => [key, key === step ? withItem(own, rest, edit) : own]));
  return (cell as readonly Cell[]).map((own, i) => (i === step ? withItem(own, rest, edit) : own));
}

function isAsWanted(
  before: ReadTables,
  after: ReadTables | undefined,
  edit: ItemEdit,
  wanted: Cell,
): boolean {
  if (after?.form !== before.form || after.tables.length !== before.tables.length) return false;
  return before.tables.every((table, i) => {
    const now = after.tables[i]!;
    const isIt = table.name === edit.table;
    return (
      now.count === table.count &&
      now.columns.length === table.columns.length &&
      table.columns.every(({ name, cells }, column) =>
        cells.every((own, row) => {
          const is = now.columns[column]!;
          const isEdited = isIt && row === edit.row && name === edit.column;
          return is.name === name && sameCell(is.cells[row], isEdited ? wanted : own);
        }),
      )
    );
  });
}
