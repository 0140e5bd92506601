import { FormatError } from '@/core/bytes';
import {
  calledValue,
  compareTables,
  fieldPath,
  spelledCell,
  titleColumn,
  titleOf,
  type Cell,
  type CellChange,
  type DataTable,
} from '@/media/table/core';
import { tablesOf } from '@/media/table/node';
import { wholeEntry } from '../looking/preview';
import { changeRow } from '../mods/mods';
import { originalOfSlot } from '../mods/original-entry';
import { mediaScriptFor } from '../opening/scripts';
import { readBlob } from '../storage/storage';
import { openReading } from './open-reading';
import { MOST_TABLE_BYTES } from './laid-tables';
import { namesIn, rowTitle, type GameTable, type Reading } from './reading';

/** A value before and after, with what it is called where it means a row. */
export interface ValueChange {
  readonly row: string;
  readonly field: string;
  readonly before: string;
  readonly after: string;
  /** Whether it means rows of a table of which none is called so. */
  readonly isNowhere: boolean;
}

export interface TableWords {
  readonly table: string;
  readonly values: readonly ValueChange[];
  /** Values that differ; more than are told. */
  readonly count: number;
  readonly added: readonly string[];
  readonly removed: readonly string[];
  readonly isMoved: boolean;
  readonly columnsAdded: readonly string[];
  readonly columnsRemoved: readonly string[];
}

const MOST_VALUES = 300;
const MOST_ROWS = 60;
const MOST_SPELLED = 120;

const readTables = (bytes: Uint8Array, path: string): readonly DataTable[] => {
  try {
    return tablesOf(bytes, path, mediaScriptFor)?.tables ?? [];
  } catch (error) {
    if (error instanceof FormatError) return [];
    throw error;
  }
};

/** What two states of a file say differently, in words; null where one of them is no table. */
export function inWords(
  reading: Reading,
  path: string,
  before: Uint8Array,
  after: Uint8Array,
): readonly TableWords[] | null {
  const was = readTables(before, path);
  const is = readTables(after, path);
  if (was.length === 0 || is.length === 0) return null;
  return was.flatMap((table): TableWords[] => {
    const other = is.find(({ name }) => name === table.name);
    if (!other) return [];
    const id = table.name === '' ? path : `${path}#${table.name}`;
    const number = reading.byId.get(id);
    const known = number === undefined ? undefined : reading.tables[number];
    const key = known?.keyBy === undefined ? undefined : known.table.columns[known.keyBy]!.name;
    const found = compareTables(table, other, key);
    const called = (of: DataTable, row: number): string =>
      titleOf(
        of,
        row,
        titleColumn(of),
        of.columns.findIndex(({ name }) => name === key),
        path,
      );
    const isSame =
      found.cells.length + found.added.length + found.removed.length === 0 &&
      found.columnsAdded.length + found.columnsRemoved.length === 0 &&
      !found.isMoved;
    if (isSame) return [];
    return [
      {
        table: id,
        values: found.cells.slice(0, MOST_VALUES).map((change) => ({
          row: called(other, change.rowAfter),
          field: spelledPlace(change),
          ...meaning(reading, number, known, change),
        })),
        count: found.cells.length,
        added: found.added.slice(0, MOST_ROWS).map((row) => called(other, row)),
        removed: found.removed.slice(0, MOST_ROWS).map((row) => called(table, row)),
        isMoved: found.isMoved,
        columnsAdded: found.columnsAdded,
        columnsRemoved: found.columnsRemoved,
      },
    ];
  });
}

/** A place within a cell as people count: from 1. */
const spelledPlace = ({ column, within }: CellChange): string =>
  column + within.map((step) => (typeof step === 'number' ? ` ${step + 1}` : `, ${step}`)).join('');

function meaning(
  reading: Reading,
  number: number | undefined,
  known: GameTable | undefined,
  { column, within, before, after }: CellChange,
): Pick<ValueChange, 'before' | 'after' | 'isNowhere'> {
  const field = known?.fields.findIndex((one) => one.path === fieldPath(column, within)) ?? -1;
  const link = reading.followed.find((one) => one.from === number && one.field === field);
  const rows = link && reading.keys.find((one) => one.table === link.to && one.field === link.by)?.rows;
  const names = number === undefined ? undefined : namesIn(reading, number, fieldPath(column, within));
  const row = (cell: Cell | undefined): number | undefined =>
    typeof cell === 'string' || typeof cell === 'number' ? rows?.get(cell) : undefined;
  const said = (cell: Cell | undefined): string => {
    const target = row(cell);
    const spelled = spelledCell(cell).slice(0, MOST_SPELLED) || 'nothing';
    const called = names && calledValue(names, cell);
    if (called !== undefined) return `${called} (${spelled})`;
    return link && target !== undefined ? `${rowTitle(reading, link.to, target)} (${spelled})` : spelled;
  };
  const isNone = after === 0 || after === -1 || after === '' || after === null || after === undefined;
  return {
    ...{ before: said(before), after: said(after) },
    isNowhere: rows !== undefined && !isNone && row(after) === undefined,
  };
}

/** What a change of a mod says differently, in words; null where it is no table or does not fit yet. */
export async function changeInWords(
  gameId: number,
  modId: number,
  changeId: number,
): Promise<readonly TableWords[] | null> {
  const row = await changeRow(gameId, modId, changeId);
  if (row.action !== 'replace' || row.preparedBlob === null) return null;
  if (Math.max(row.preparedSize ?? 0, row.originalSize ?? 0) > MOST_TABLE_BYTES) return null;
  const before = wholeEntry(await originalOfSlot(gameId, row, row.path), MOST_TABLE_BYTES);
  const after = readBlob(row.preparedBlob);
  // What is no table need not have all tables of the game read for it.
  if (readTables(before, row.path).length === 0) return null;
  return inWords(await openReading(gameId, modId), row.path, before, after);
}
