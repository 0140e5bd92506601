import {
  fieldPath,
  isList,
  spelledCell,
  valueWithin,
  type Cell,
  type ItemEdit,
  type ItemLike,
  type Place,
} from '@/media/table/core';
import { UserError } from '@/platform/user-error';
import { modRow } from '../mods/mods';
import { layWork, type CellAnswer } from './edit-cell';
import { likeFirst } from './like-item';
import { openReading } from './open-reading';
import { rowTitle, type GameTable, type Reading } from './reading';
import { tableAt } from './reading-view';

/** An item of a list within a cell that somebody wants twice, out of it, or the first of it. */
export interface ItemAsked {
  readonly table: string;
  readonly row: number;
  readonly column: string;
  /** What leads to the item within its cell; its number comes last. */
  readonly within: Place;
  /** `first` puts one into an empty list, like the first of another row. */
  readonly does: 'copy' | 'remove' | 'first';
  /** What stood there when it was asked for. */
  readonly was: string;
}

/** Forms in which lists within cells may have other numbers of items. */
const RESIZED: ReadonlySet<string> = new Set(['CBOR', 'MessagePack', 'JSON', 'YAML']);

/** Whether items of lists within cells are added and taken out here: `path` is that of the items. */
export const mayResizeLists = ({ form, table }: GameTable, path: string): boolean =>
  RESIZED.has(form) || (table.writable?.has(path) ?? false);

/** Whether a list is steps, which come and go in words. */
export const isStepList = ({ words }: GameTable, column: string, path: Place): boolean =>
  path.length === 0 && words.some(({ field }) => field === column);

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
  if (!mayResizeLists(of, fieldPath(column, within)))
    throw new UserError(409, `Lists of ${asked.table} keep their length here: its form is ${of.form}.`);
  if (isStepList(of, column, path))
    throw new UserError(
      409,
      `${called} are steps. Add and take them out in words, so that others go on where they did.`,
    );
  const isOther =
    does === 'first' ? !isList(list) || list.length > 0 : !isList(list) || itemAsSaid(list[at]) !== asked.was;
  if (isOther || !(does === 'first' || at < (list as readonly Cell[]).length))
    throw new UserError(409, `${called} is another list by now. Look at it again.`);
  const { edit, what } =
    does === 'first' ? first(reading, number, asked) : again(asked, list as readonly Cell[]);
  const fit = await layWork(gameId, modId, of, row, `${called}: ${what}`, (rowInFile) => {
    if (of.files.length > 1 && 'item' in edit) throw new UserError(409, NO_OTHER);
    const place = { table: of.table.name, row: rowInFile, column, within: path };
    return { sort: 'item', edit: { ...place, ...edit }, before: list };
  });
  return { findings: [], isWritten: true, fit };
}

type Done = Pick<ItemEdit, 'at'> & ({ does: 'copy' | 'remove' } | { does: 'add'; item: ItemLike });

/** Rows that are files of their own cannot look into each other. */
const NO_OTHER =
  'No other row of the file has an item there that the first one could be like. Change the file in an editor.';

function first(
  { tables }: Reading,
  number: number,
  { column, row, within }: ItemAsked,
): { edit: Done; what: string } {
  const { table } = tables[number]!;
  const cells = table.columns.find(({ name }) => name === column)!.cells;
  const item = likeFirst(cells, row, within.slice(0, -1));
  if (!item) throw new UserError(409, NO_OTHER);
  const like = itemAsSaid(valueWithin(cells[item.row], item.within));
  return { edit: { at: 0, does: 'add', item }, what: `a first item, ${like || 'empty'}` };
}

function again({ within, does }: ItemAsked, list: readonly Cell[]): { edit: Done; what: string } {
  const at = Number(within.at(-1));
  return does === 'remove'
    ? { edit: { at, does }, what: `without item ${at + 1}, ${itemAsSaid(list[at]) || 'nothing'}` }
    : { edit: { at, does: 'copy' }, what: `another like item ${at + 1}` };
}
