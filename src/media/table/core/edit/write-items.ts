import { FormatError } from '@/core/bytes';
import { isList, isRecord, type Cell } from '../cell';
import { valueWithin, type DataTable, type Place } from '../data-table';
import { readOpenTables } from '../read-open';
import { sameCell } from './compare-tables';
import { resizedList, type NewItem } from './resize-list';

/** An item more in a list within a cell, or one less. */
export type ItemEdit = {
  /** What the table is called within its file. */
  readonly table: string;
  readonly row: number;
  readonly column: string;
  /** What leads to the list within its cell. */
  readonly within: Place;
  readonly at: number;
} & (
  | { readonly does: 'copy' | 'remove' }
  /** One that will be the one at `at`: as another item of the column stands, or numbers. */
  | { readonly does: 'add'; readonly item: ItemLike | { readonly numbers: readonly number[] } }
);

/** An item of a list within a cell of the same column. */
export interface ItemLike {
  readonly row: number;
  /** What leads to it within its cell. */
  readonly within: Place;
}

/** Where an item stands, in messages. */
export const itemCalled = ({ table, row, column, within, at }: ItemEdit): string =>
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
      ...{ file: name, fieldPath: itemCalled(edit), expected, actual },
      remedy: 'Change it in an editor, and put the whole file into the mod',
    });
  const read = reads(bytes, name);
  const table = read?.tables.find((one) => one.name === edit.table);
  const column = table?.columns.findIndex((one) => one.name === edit.column) ?? -1;
  const cell = table?.columns[column]?.cells[edit.row];
  const list = valueWithin(cell, edit.within);
  const place = column < 0 ? undefined : table?.placeOf?.(edit.row, column);
  const { at, does } = edit;
  const isThere = isList(list) && (does === 'add' ? at <= list.length : at < list.length);
  if (!read || !table || !place || !isThere)
    throw refused('an item of a list within a cell of CBOR, MessagePack, JSON or YAML', 'none');
  const coming = does === 'remove' ? undefined : comingIn(edit, table, column);
  if (does !== 'remove' && !coming) throw refused('an item that it would be like', 'none');
  const made = resizedList(bytes, name, read.form, {
    ...{ list: [...place, ...edit.within], count: list.length },
    ...(coming ? { does: 'add', at: coming.at, item: coming.item } : { does: 'remove', at }),
  });
  if (!made) throw refused('a list whose items stand by themselves', 'another form');
  const wanted = withinCell(cell!, edit.within, (items) =>
    coming ? items.toSpliced(coming.at, 0, coming.cell) : items.toSpliced(at, 1),
  );
  const again = reads(made, name);
  if (again?.form !== read.form || !comesOut(read.tables, again.tables, edit, wanted))
    throw refused(
      coming ? 'one item more, and all else as it was' : 'one item less, and all else as it was',
      'it would be read otherwise',
    );
  return made;
}

interface Coming {
  /** Which one it will be. */
  readonly at: number;
  readonly cell: Cell;
  readonly item: NewItem;
}

/** What comes into a list; undefined where there is nothing that it would be like. */
function comingIn(edit: ItemEdit, table: DataTable, column: number): Coming | undefined {
  const given = edit.does === 'add' ? edit.item : { row: edit.row, within: [...edit.within, edit.at] };
  const at = edit.does === 'copy' ? edit.at + 1 : edit.at;
  if ('numbers' in given) return { at, cell: given.numbers, item: given };
  const { row, within } = given;
  const cell = valueWithin(table.columns[column]!.cells[row], within);
  const place = table.placeOf?.(row, column);
  return cell === undefined || !place ? undefined : { at, cell, item: { like: [...place, ...within] } };
}

/** A cell in which a list is another one. */
export function withinCell(cell: Cell, within: Place, make: (list: readonly Cell[]) => Cell): Cell {
  const [step, ...rest] = within;
  if (step === undefined) return make(cell as readonly Cell[]);
  if (isRecord(cell))
    return new Map([...cell].map(([key, own]) => [key, key === step ? withinCell(own, rest, make) : own]));
  return (cell as readonly Cell[]).map((own, i) => (i === step ? withinCell(own, rest, make) : own));
}

/** Whether tables are what they were but for one cell that is what was wanted. */
export function comesOut(
  before: readonly DataTable[],
  after: readonly DataTable[],
  edit: Pick<ItemEdit, 'table' | 'row' | 'column'>,
  wanted: Cell,
): boolean {
  if (after.length !== before.length) return false;
  return before.every((table, i) => {
    const now = after[i]!;
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
