import { equalBytes } from '@/core/bytes';
import type { FitShown } from '@/core/fit';
import { ChangeRow } from '@/db';
import {
  checkCell,
  fieldPath,
  readValue,
  sameCell,
  spelledCell,
  valueWithin,
  type Cell,
  type CellFinding,
  type Place,
  type TableEdit,
} from '@/media/table/core';
import type { KeyField } from '@/media/table/core/links';
import { UserError } from '@/platform/user-error';
import { wholeEntry } from '../looking/preview';
import { bytesInMod } from '../mods/bytes-in-mod';
import { changeSlot, type ChangeSlot } from '../mods/change-slot';
import { asStep } from '../mods/history';
import { modRow, placeEntry } from '../mods/mods';
import { originalEntry } from '../mods/original-entry';
import { openedEntry, type OpenedEntry } from '../opening/opened';
import { keepBlob } from '../storage/storage';
import { openReading } from './open-reading';
import { MOST_TABLE_BYTES } from './laid-tables';
import { namesIn, rowTitle, type GameTable, type Reading } from './reading';
import { tableAt } from './reading-view';
import { writeBeside, type TableWork } from './write-beside';

/** A value that somebody wants to be another one. */
export interface CellAsked {
  readonly table: string;
  readonly row: number;
  readonly column: string;
  /** What leads to it within its cell. */
  readonly within: Place;
  /** As it is written. */
  readonly text: string;
  /** What stood there when it was asked for. */
  readonly was: string;
}

export interface CellAnswer {
  readonly findings: readonly CellFinding[];
  /** Whether it is in the mod now; where something is wrong it is not, unless that is said. */
  readonly isWritten: boolean;
  readonly fit: FitShown | null;
}

/** What is given by the reading view is called so. */
const FROM_READING = ', cells changed';

/** What is found of a value that is wanted for a cell, in a mod. */
function checked(
  reading: Reading,
  number: number,
  asked: CellAsked,
): { value?: Cell; findings: CellFinding[] } {
  const of = reading.tables[number]!;
  const before = cellOf(of, asked);
  const read = readValue(asked.text, before);
  if ('finding' in read) return { findings: [read.finding] };
  const { value } = read;
  if (sameCell(before, value)) return { value, findings: [] };
  const path = fieldPath(asked.column, asked.within);
  const field = of.fields.findIndex((one) => one.path === path);
  const link = reading.followed.find((one) => one.from === number && one.field === field);
  const target = link && reading.keys.find((one) => one.table === link.to && one.field === link.by);
  const key = keyIn(reading, number, field);
  const other = key?.rows.get(value as string | number);
  const findings = checkCell(value, {
    before,
    field: of.fields[field],
    means: target && {
      table: reading.tables[link.to]!.id,
      has: (one) => (typeof one === 'string' || typeof one === 'number') && target.rows.has(one),
    },
    names: namesIn(reading, number, path),
    key: key && {
      others: other === undefined || other === asked.row ? 0 : 1,
      named: namedBy(reading, number, asked.row, field),
    },
  });
  return { value, findings };
}

/** The rows by a field that others mean them by, or that they are called by first; names that nothing goes by may stand twice. */
function keyIn({ keys, followed, tables }: Reading, table: number, field: number): KeyField | undefined {
  const key = keys.find((one) => one.table === table && one.field === field);
  const { keyBy, table: of, fields } = tables[table]!;
  const isFirst = keyBy !== undefined && of.columns[keyBy]!.name === fields[field]?.path;
  return isFirst || followed.some(({ to, by }) => to === table && by === field) ? key : undefined;
}

/** How many places name a row by a field of it. */
function namedBy({ index, followed }: Reading, table: number, row: number, field: number): number {
  let count = 0;
  for (const { link } of index.into(index.rowOf(table, row))) if (followed[link]!.by === field) count++;
  return count;
}

const cellOf = (of: GameTable, { column, row, within }: Pick<CellAsked, 'column' | 'row' | 'within'>) =>
  valueWithin(of.table.columns.find(({ name }) => name === column)?.cells[row], within);

/** What is found of a value, without anything being changed. */
export async function checkCellIn(gameId: number, modId: number, asked: CellAsked): Promise<CellFinding[]> {
  const reading = await openReading(gameId, modId);
  return checked(reading, tableAt(reading, asked.table).number, asked).findings;
}

/** Writes a value into the table's file as a mod has it, as one step that can be undone. */
export async function editCell(
  gameId: number,
  modId: number,
  asked: CellAsked,
  isDespite: boolean,
): Promise<CellAnswer> {
  await modRow(gameId, modId);
  const reading = await openReading(gameId, modId);
  const { number, of } = tableAt(reading, asked.table);
  if (asked.row >= of.count) throw new UserError(404, `${asked.table} has ${of.count} rows.`);
  const before = cellOf(of, asked);
  const called = `${fieldPath(asked.column, asked.within)} of ${rowTitle(reading, number, asked.row)}`;
  if (spelledCell(before) !== asked.was)
    throw new UserError(
      409,
      `${called} is ${spelledCell(before) || 'empty'} by now. Look at it, and say again what it should be.`,
    );
  const { value, findings } = checked(reading, number, asked);
  if (value === undefined || (!isDespite && findings.some(({ state }) => state === 'wrong')))
    return { findings, isWritten: false, fit: null };
  if (sameCell(before, value)) return { findings, isWritten: false, fit: null };
  const what = `${called}: ${spelledCell(before) || 'nothing'} to ${spelledCell(value) || 'nothing'}`;
  const fit = await layValues(gameId, modId, of, asked, [{ within: asked.within, before, value }], what);
  return { findings, isWritten: true, fit };
}

/** A value within a cell, and what it is to be. */
export interface LaidValue {
  readonly within: Place;
  readonly before: Cell | undefined;
  readonly value: Cell;
}

/** Lays values over a cell of a table, or what is within it, as one step of the mod that is called so. */
export async function layValues(
  gameId: number,
  modId: number,
  of: GameTable,
  { row, column }: Pick<CellAsked, 'row' | 'column'>,
  values: readonly LaidValue[],
  what: string,
): Promise<FitShown | null> {
  return layWork(gameId, modId, of, row, what, (rowInFile) => ({
    sort: 'cells',
    edits: values.map(({ within, before, value }) => {
      const edit: TableEdit = { table: of.table.name, row: rowInFile, column, within, value };
      return { edit, before };
    }),
  }));
}

/** Writes into the file that a row stands in, as one step of the mod that is called so. */
export async function layWork(
  gameId: number,
  modId: number,
  of: GameTable,
  row: number,
  what: string,
  work: (rowInFile: number) => TableWork,
): Promise<FitShown | null> {
  const isRowAFile = of.files.length > 1;
  const file = of.files[isRowAFile ? row : 0]!;
  const opened = await openedEntry(gameId, file.archiveId, file.index);
  const slot = await changeSlot(opened);
  // What it is written into is read once nobody else is at the mod: of two who change cells of one file neither loses theirs.
  return asStep(modId, what.slice(0, 200), [slot], () =>
    makeInMod(opened, modId, slot, file.path, (bytes) =>
      writeBeside({ bytes, name: file.path, work: work(isRowAFile ? 0 : row) }),
    ),
  );
}

/** Makes a file of tables anew from what the mod has of it by now; what is made what it was is no change any more. */
export async function makeInMod(
  opened: OpenedEntry,
  modId: number,
  slot: ChangeSlot,
  path: string,
  make: (base: Uint8Array) => Promise<Uint8Array>,
): Promise<FitShown | null> {
  const kept = await ChangeRow.findOne({ where: { modId, ...slot } });
  if (kept?.preparedBlob === null) throw givenOtherwise(kept, path);
  const bytes = await make(await bytesInMod(opened, modId, MOST_TABLE_BYTES));
  if (kept && equalBytes(bytes, wholeEntry(await originalEntry(opened), MOST_TABLE_BYTES))) {
    // Nothing is left of the change.
    await kept.destroy();
    return null;
  }
  const given = kept?.givenName ?? path.slice(path.lastIndexOf('/') + 1);
  const name = given.endsWith(FROM_READING) ? given : `${given}${FROM_READING}`;
  return placeEntry(opened, modId, { name, blob: keepBlob(bytes), size: bytes.length });
}

/** Why nothing is laid over a file that the mod takes out, or that was given and does not fit. */
const givenOtherwise = ({ action, givenName }: ChangeRow, path: string): UserError =>
  new UserError(
    409,
    action === 'remove'
      ? `The mod takes ${path} out. Take that change back first, then change it here.`
      : `${givenName} was given for ${path} and does not fit. Mend it on Changes or take it out first, then change it here.`,
  );
