import type { FitShown } from '@/core/fit';
import { isOpenForm, spelledCell, type Cell, type RowEdit } from '@/media/table/core';
import { UserError } from '@/platform/user-error';
import { changeSlot } from '../mods/change-slot';
import { asStep } from '../mods/history';
import { modRow } from '../mods/mods';
import { openedEntry } from '../opening/opened';
import { makeInMod } from './edit-cell';
import { openReading } from './open-reading';
import { rowTitle, type GameTable, type Reading } from './reading';
import { tableAt } from './reading-view';
import { writeBeside } from './write-beside';

export interface RowAsked {
  readonly table: string;
  readonly row: number;
  readonly does: 'copy' | 'remove';
  /** What a copy is called by; the next that is free where nothing is said. */
  readonly key?: string | undefined;
  /** What the row was called when it was asked for. */
  readonly title: string;
}

export interface RowAnswer {
  /** Why it is not done unless that is said. */
  readonly finding: string | null;
  /** The row that is to be looked at then; null where nothing was done. */
  readonly row: number | null;
  readonly fit: FitShown | null;
}

/** What a copy of a row would be called by, where rows have that: a number behind the largest, or a text that is free. */
export function freeKey({ table, keyBy }: GameTable, row: number): string | null {
  const cells = keyBy === undefined ? undefined : table.columns[keyBy]!.cells;
  if (!cells) return null;
  const own = cells[row];
  if (typeof own === 'number')
    return String(
      cells.reduce<number>((most, one) => (typeof one === 'number' ? Math.max(most, one) : most), own) + 1,
    );
  if (typeof own !== 'string') return null;
  const taken = new Set(cells);
  for (let number = 2; ; number++) {
    const key = `${own.replace(/_\d+$/, '')}_${number}`;
    if (!taken.has(key)) return key;
  }
}

/** Whether rows are added and taken out here: of open forms, and of tables that a script describes. */
export const mayResize = ({ form, table, files }: GameTable): boolean =>
  (isOpenForm(form) || table.writable !== undefined) && files.length === 1;

/** How many places name a row in fields of known meaning. */
const namedTimes = ({ index }: Reading, table: number, row: number): number =>
  index.countInto(index.rowOf(table, row));

function keyOf({ table, keyBy }: GameTable, row: number, said: string): RowEdit['key'] {
  if (keyBy === undefined) return undefined;
  const { name, cells } = table.columns[keyBy]!;
  const value: Cell = typeof cells[row] === 'number' ? Number(said) : said;
  if (said.trim() === '' || (typeof value === 'number' && !Number.isSafeInteger(value)))
    throw new UserError(
      422,
      `${name} of the new row has to be ${typeof cells[row] === 'number' ? 'a whole number' : 'a text'}.`,
    );
  if (cells.includes(value)) throw new UserError(422, `Another row is called by ${said} already.`);
  return { column: name, value };
}

/** Lays a row more, or one less, into the table's file as a mod has it, as one step that can be undone. */
export async function editRow(
  gameId: number,
  modId: number,
  { table, row, does, key: said, title }: RowAsked,
  isDespite: boolean,
): Promise<RowAnswer> {
  await modRow(gameId, modId);
  const reading = await openReading(gameId, modId);
  const { number, of } = tableAt(reading, table);
  if (row >= of.count || rowTitle(reading, number, row) !== title)
    throw new UserError(409, `Row ${row + 1} of ${table} is another one by now. Look at it again.`);
  if (!mayResize(of))
    throw new UserError(
      409,
      `Rows of ${table} are not added or taken out here: ${of.files.length > 1 ? 'each is a file of its own. Add or take out the file on Changes' : `its form is ${of.form}. Change it in an editor, and put the whole file into the mod`}.`,
    );
  const named = namedTimes(reading, number, row);
  if (does === 'remove' && named > 0 && !isDespite)
    return {
      finding: `${named} ${named === 1 ? 'place names' : 'places name'} it, and would lead nowhere`,
      ...{ row: null, fit: null },
    };
  const key = does === 'copy' ? keyOf(of, row, said ?? freeKey(of, row) ?? '') : undefined;
  const edit: RowEdit = { table: of.table.name, row, does, ...(key && { key }) };
  const [file] = of.files;
  const opened = await openedEntry(gameId, file!.archiveId, file!.index);
  const slot = await changeSlot(opened);
  const what =
    does === 'copy'
      ? `a row like ${title}${key ? `: ${spelledCell(key.value)}` : ''}`
      : `without the row ${title}`;
  const before = new Map(of.table.columns.map(({ name, cells }) => [name, cells[row]]));
  const fit = await asStep(modId, what.slice(0, 200), [slot], () =>
    makeInMod(opened, modId, slot, file!.path, (bytes) =>
      writeBeside({ bytes, name: file!.path, work: { sort: 'row', edit, count: of.count, before } }),
    ),
  );
  if (does === 'remove') return { finding: null, row: Math.min(row, of.count - 2), fit };
  return { finding: null, row: isOpenForm(of.form) ? of.count : await rowOfCopy(), fit };

  /** A script may keep rows in an order. */
  async function rowOfCopy(): Promise<number> {
    if (!key || fit === 'does not fit') return of.count;
    const now = tableAt(await openReading(gameId, modId), table).of.table;
    const found = now.columns.find(({ name }) => name === key.column)?.cells.indexOf(key.value) ?? -1;
    return found < 0 ? of.count : found;
  }
}
