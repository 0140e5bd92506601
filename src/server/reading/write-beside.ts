import {
  sameCell,
  valueWithin,
  type Cell,
  type ItemEdit,
  type RowEdit,
  type TableEdit,
} from '@/media/table/core';
import { tablesOf, writeTableItem, writeTableRow, writeTables } from '@/media/table/node';
import { UserError } from '@/platform/user-error';
import { hasLookThread, lookBeside } from '../looking/look-threads';
import { mediaScriptFor } from '../opening/scripts';
import { BESIDE_BYTES } from './laid-tables';

/** What is to be written into a file of tables, and what has to stand there before. */
export type TableWork =
  | {
      readonly sort: 'cells';
      readonly edits: readonly { readonly edit: TableEdit; readonly before: Cell | undefined }[];
    }
  | {
      readonly sort: 'item';
      readonly edit: ItemEdit;
      /** The list as it stood. */
      readonly before: Cell | undefined;
      /** Values that follow from it, in places as they are then. */
      readonly then?: readonly TableEdit[];
    }
  | {
      readonly sort: 'row';
      readonly edit: RowEdit;
      readonly count: number;
      /** The cells of the row, by their columns. */
      readonly before: ReadonlyMap<string, Cell | undefined>;
    };

export interface TableAsked {
  readonly bytes: Uint8Array;
  readonly name: string;
  readonly work: TableWork;
}

/** A file of tables with something written into it. What is written into has to be what was read: something else may be installed. Throws UserError where it is not, FormatError where it cannot be written. */
export function writeHere({ bytes, name, work }: TableAsked): Uint8Array {
  const tables = tablesOf(bytes, name, mediaScriptFor)?.tables ?? [];
  const cellAt = (table: string, column: string, row: number): Cell | undefined =>
    tables.find((one) => one.name === table)?.columns.find((one) => one.name === column)?.cells[row];
  if (work.sort === 'cells') {
    for (const { edit, before } of work.edits)
      if (!sameCell(valueWithin(cellAt(edit.table, edit.column, edit.row), edit.within), before))
        throw isOther(name, 'this value');
    return writeTables(
      bytes,
      name,
      mediaScriptFor,
      work.edits.map(({ edit }) => edit),
    );
  }
  if (work.sort === 'item') {
    const { edit, before, then = [] } = work;
    if (!sameCell(valueWithin(cellAt(edit.table, edit.column, edit.row), edit.within), before))
      throw isOther(name, 'this list');
    const made = writeTableItem(bytes, name, mediaScriptFor, edit);
    return then.length > 0 ? writeTables(made, name, mediaScriptFor, then) : made;
  }
  const { edit, count, before } = work;
  const now = tables.find((one) => one.name === edit.table);
  const isSame = [...before].every(([column, cell]) => sameCell(cellAt(edit.table, column, edit.row), cell));
  if (now?.count !== count || !isSame) throw isOther(name, 'it');
  return writeTableRow(bytes, name, mediaScriptFor, edit);
}

const isOther = (path: string, what: string): UserError =>
  new UserError(
    409,
    `${path} is not what was read: something is installed, or somebody changed ${what} meanwhile. Look at it again, and restore the originals if it stays so.`,
  );

/** The same, of a large file beside the server, which answers others meanwhile. */
export const writeBeside = async (asked: TableAsked): Promise<Uint8Array> =>
  asked.bytes.length > BESIDE_BYTES && hasLookThread() ? lookBeside('tableWritten', asked) : writeHere(asked);
