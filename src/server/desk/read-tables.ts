import { LRUCache } from 'lru-cache';
import { FormatError, memorySource } from '@/core/bytes';
import {
  describedTable,
  programTable,
  readOpenTable,
  type HeldPlace,
  type LineTable,
} from '@/media/text/core/lines';
import { nodePrimitives } from '@/platform/node/primitives';
import type { EntryRecord } from '../entries/catalogue';
import { MOST_PICTURE_BYTES, wholeEntry } from '../looking/preview';
import { originalEntry } from '../mods/original-entry';
import { openedEntry, type OpenedEntry } from '../opening/opened';
import { mediaScriptFor } from '../opening/scripts';
import type { TableFile } from './find-tables';

/** A table of texts from its bytes, by its script, as an open form or as texts of a program that are known by their places; undefined where it is none. Throws FormatError where a script and its bytes do not agree. */
export function tableOf(bytes: Uint8Array, name: string, held?: readonly HeldPlace[]): LineTable | undefined {
  if (held) return programTable(bytes, held);
  const script = mediaScriptFor(memorySource(bytes, name), 'lines')?.script;
  return script ? describedTable(script, bytes, name, nodePrimitives) : readOpenTable(bytes, name);
}

/** A table as it lies in the original of a game. */
export interface ReadTable {
  readonly table: LineTable | undefined;
  /** Why it cannot be read. */
  readonly problem: string | undefined;
}

declare global {
  var zeroLatchTables: LRUCache<string, ReadTable> | undefined;
}
/** Tables are kept up to so many bytes of theirs, all together. */
const MOST_KEPT_BYTES = 128 << 20;

const entryOfRecord = async (gameId: number, { archiveId, index }: EntryRecord): Promise<OpenedEntry> =>
  originalEntry(await openedEntry(gameId, archiveId, index));

/** The table that an entry is, before any installation. `stamp` changes with the game. */
export async function readTable(
  gameId: number,
  { record, held }: Pick<TableFile, 'record' | 'held'>,
  stamp: string,
): Promise<ReadTable> {
  const kept = (globalThis.zeroLatchTables ??= new LRUCache<string, ReadTable>({ maxSize: MOST_KEPT_BYTES }));
  const places = held?.map(({ offset }) => offset).join() ?? '';
  const name = `${gameId} ${record.archiveId} ${record.index} ${stamp} ${places}`;
  const known = kept.get(name);
  if (known) return known;
  const read = await readNow(gameId, record, held);
  kept.set(name, read, { size: Math.max(1, record.size) });
  return read;
}

/** Larger programs are not looked through while somebody waits. */
export const MOST_PROGRAM_BYTES = 64 << 20;

/** The bytes of an entry before any installation. */
export const originalBytes = async (gameId: number, record: EntryRecord, most: number): Promise<Uint8Array> =>
  wholeEntry(await entryOfRecord(gameId, record), most);

async function readNow(gameId: number, record: EntryRecord, held: TableFile['held']): Promise<ReadTable> {
  try {
    const most = held ? MOST_PROGRAM_BYTES : MOST_PICTURE_BYTES;
    return {
      table: tableOf(await originalBytes(gameId, record, most), record.path, held),
      problem: undefined,
    };
  } catch (error) {
    if (!(error instanceof FormatError) && !(error instanceof Error && error.name === 'UserError'))
      throw error;
    return { table: undefined, problem: error.message };
  }
}
