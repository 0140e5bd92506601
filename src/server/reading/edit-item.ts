import { fieldPath, isList, spelledCell, valueWithin, type Cell, type Place } from '@/media/table/core';
import { UserError } from '@/platform/user-error';
import { modRow } from '../mods/mods';
import { layWork, type CellAnswer } from './edit-cell';
import { openReading } from './open-reading';
import { rowTitle, type GameTable } from './reading';
import { tableAt } from './reading-view';

/** An item of a list within a cell that somebody wants twice, or out of it. */
export interface ItemAsked {
  readonly table: string;
  readonly row: number;
  readonly column: string;
  /** What leads to the item within its cell; its number comes last. */
  readonly within: Place;
  readonly does: 'copy' | 'remove';
  /** What stood there when it was asked for. */
  readonly was: string;
}

/** Forms in which lists within cells may have other numbers of items. */
const RESIZED: ReadonlySet<string> = new Set(['CBOR', 'MessagePack', 'JSON', 'YAML']);

/** Whether items of lists within cells are added and taken out here. */
export const mayResizeLists = ({ form }: GameTable): boolean => RESIZED.has(form);

/** An item of a list as it is told apart, whatever is within it. */
export const itemAsSaid = (item: Cell | undefined): string => spelledCell(item).slice(0, 4000);

/** Puts a copy of an item behind it, or takes it out, as one step of the mod that can be undone. */
export async function editItem(gameId: number, modId: number, asked: ItemAsked): Promise<CellAnswer> {
  await modRow(gameId, modId);
  const reading = await openReading(gameId, modId);
  const { number, of } = tableAt(reading, asked.table);
  const { row, column, within, does } = asked;
  const cell = of.table.columns.find(({ name }) => name === column)?.cells[row];
  const path = within.slice(0, -1);
  const list = valueWithin(cell, path);
  const at = Number(within.at(-1));
  const called = `${fieldPath(column, path)} of ${row < of.count ? rowTitle(reading, number, row) : `row ${row + 1}`}`;
  if (!mayResizeLists(of))
    throw new UserError(409, `Lists of ${asked.table} keep their length here: its form is ${of.form}.`);
  if (!isList(list) || !(at < list.length) || itemAsSaid(list[at]) !== asked.was)
    throw new UserError(409, `${called} is another list by now. Look at it again.`);
  const what =
    does === 'copy'
      ? `${called}: another like item ${at + 1}`
      : `${called}: without item ${at + 1}, ${itemAsSaid(list[at]) || 'nothing'}`;
  const fit = await layWork(gameId, modId, of, row, what, (rowInFile) => ({
    sort: 'item',
    edit: { table: of.table.name, row: rowInFile, column, within: path, at, does },
    before: list,
  }));
  return { findings: [], isWritten: true, fit };
}
