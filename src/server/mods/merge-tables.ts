import fs from 'node:fs';
import { LRUCache } from 'lru-cache';
import { FormatError } from '@/core/bytes';
import { conflictKey, type Conflict } from '@/core/mod';
import { ChangeRow } from '@/db';
import { mergeTableFiles } from '@/media/table/node';
import { UserError } from '@/platform/user-error';
import { gameCatalogue } from '../entries/catalogue';
import { wholeEntry } from '../looking/preview';
import { mediaScriptFor } from '../opening/scripts';
import { blobFile, keepBlob, readBlob } from '../storage/storage';
import { originalOfSlot } from './original-entry';

/** A file that several mods change, with the values of all of them. */
interface Merged {
  readonly blob: string;
  readonly size: number;
  readonly values: readonly number[];
  readonly clashes: number;
}

/** A file of which all of several mods have their values, as it is told. */
export interface MergedFile {
  readonly path: string;
  readonly mods: readonly number[];
  /** How many values of each mod are in it. */
  readonly values: readonly number[];
  /** Values that several say differently. */
  readonly clashes: number;
}

export interface MergedTables {
  readonly rows: ReadonlyMap<number, ChangeRow>;
  readonly conflicts: readonly Conflict[];
  readonly together: readonly MergedFile[];
}

declare global {
  var zeroLatchMergedTables: LRUCache<string, { merged: Merged | undefined }> | undefined;
}
/** What was put together once is not again each time a list of builds is asked for. */
const known = (): LRUCache<string, { merged: Merged | undefined }> =>
  (globalThis.zeroLatchMergedTables ??= new LRUCache({ max: 500 }));

/** Larger files stand against each other as wholes. */
const MOST_BYTES = 16 << 20;

/**
 * Puts changes that several mods make to one file together where it is a table and they change values of it: the one whose way it is has it only where both say one value. Conflicts of which
 * nothing is left are gone; the changed rows stand under the number of the change that is taken.
 */
export async function mergeTables(
  gameId: number,
  conflicts: readonly Conflict[],
  changes: readonly ChangeRow[],
): Promise<MergedTables> {
  const rows = new Map<number, ChangeRow>();
  const left: Conflict[] = [];
  const together: MergedFile[] = [];
  for (const conflict of conflicts) {
    const key = conflictKey(conflict.path);
    const order = [...conflict.mods.filter((id) => id !== conflict.taken), conflict.taken];
    const own = order.map((id) => changes.filter((row) => row.modId === id && conflictKey(row.path) === key));
    const single = own.flatMap((all) => (all.length === 1 ? all : []));
    const merged = single.length === order.length ? await mergedOf(gameId, single) : undefined;
    if (!merged) {
      left.push(conflict);
      continue;
    }
    const winner = single.at(-1)!;
    const made = ChangeRow.build(
      { ...winner.get({ plain: true }), preparedBlob: merged.blob, preparedSize: merged.size },
      { isNewRecord: false, raw: true },
    );
    rows.set(winner.id, made);
    const values = conflict.mods.map((id) => merged.values[order.indexOf(id)]!);
    const { path, mods } = conflict;
    together.push({ path, mods, values, clashes: merged.clashes });
    if (merged.clashes > 0) left.push(conflict);
  }
  return { rows, conflicts: left, together };
}

async function mergedOf(gameId: number, rows: readonly ChangeRow[]): Promise<Merged | undefined> {
  const [first] = rows;
  const { archivePath, entryIndex, path } = first!;
  const isOfOne = rows.every(
    (row) =>
      row.archivePath === archivePath &&
      row.entryIndex === entryIndex &&
      row.action === 'replace' &&
      row.preparedBlob !== null &&
      (row.preparedSize ?? 0) <= MOST_BYTES &&
      (row.mends as readonly string[]).length === 0,
  );
  if (!isOfOne) return undefined;
  const scan = (await gameCatalogue(gameId))?.scan;
  const id = JSON.stringify([
    gameId,
    scan,
    archivePath,
    entryIndex,
    rows.map(({ preparedBlob }) => preparedBlob),
  ]);
  const before = known().get(id);
  if (before && isKept(before.merged)) return before.merged;
  const merged = await merge(gameId, rows, path);
  known().set(id, { merged });
  return merged;
}

/** Whether its bytes are there still; they count as new again, so that they stay until they are built. */
function isKept(merged: Merged | undefined): boolean {
  if (!merged) return true;
  const file = blobFile(merged.blob);
  if (!fs.existsSync(file)) return false;
  const now = new Date();
  fs.utimesSync(file, now, now);
  return true;
}

async function merge(gameId: number, rows: readonly ChangeRow[], path: string): Promise<Merged | undefined> {
  try {
    const base = wholeEntry(await originalOfSlot(gameId, rows[0]!, path), MOST_BYTES);
    const changed = rows.map(({ preparedBlob }) => readBlob(preparedBlob!));
    const made = mergeTableFiles(base, changed, path, mediaScriptFor);
    if (!made) return undefined;
    const { bytes, taken, clashes } = made;
    return { blob: keepBlob(bytes), size: bytes.length, values: taken, clashes: clashes.length };
  } catch (error) {
    if (error instanceof FormatError || error instanceof UserError) return undefined;
    throw error;
  }
}
