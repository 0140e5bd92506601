import { createHash } from 'node:crypto';
import fs from 'node:fs';
import type { EntryStore, StoredEntry } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import { ArchiveRow, KeyRow, models } from '@/db';
import { resolveInside } from '@/platform/node/inside';
import { gameCatalogue } from '../entries/catalogue';
import { presentGame, type GameView } from '../games/games';
import { looseFiles } from './loose-files';
import { keysWith, openFile, openWithin } from './open-file';
import { scriptById } from './scripts';
import { notFound, UserError } from '@/platform/user-error';

interface Held {
  readonly archive: EntryStore;
  readonly close: () => void;
  readonly stamp: string;
  /** The archive that this one is an entry of; it stays open as long. */
  readonly within?: number;
}

declare global {
  var zeroLatchOpened: Map<number, Held> | undefined;
}

/** How many archives stay open between requests. */
const MOST_OPEN = 12;

export async function keyBytes(keyId: number | null): Promise<Uint8Array | undefined> {
  if (keyId === null) return undefined;
  const key = await KeyRow.findByPk(keyId);
  return key ? new Uint8Array(key.bytes) : undefined;
}

export async function archiveRow(gameId: number, archiveId: number): Promise<ArchiveRow> {
  models();
  const row = await ArchiveRow.findOne({ where: { id: archiveId, gameId } });
  if (!row) throw notFound('The archive');
  return row;
}

/** An archive of a game, opened with the key that the scan proved; kept open while the file stays the same. */
export async function openedArchive(
  gameId: number,
  archiveId: number,
): Promise<{ row: ArchiveRow; archive: EntryStore }> {
  const game = await presentGame(gameId);
  const row = await archiveRow(gameId, archiveId);
  const { archive } = await heldArchive(game, row);
  return { row, archive };
}

async function heldArchive(game: GameView, row: ArchiveRow): Promise<Held> {
  if (row.sort === 'loose') return heldLoose(game, row);
  const script = row.script === null ? undefined : scriptById(row.script);
  if (row.state !== 'open' || !script)
    throw new UserError(409, `${row.path} is not open: ${row.reason}. ${row.nextStep}`);
  const outer =
    row.parentId === null ? undefined : await heldArchive(game, await archiveRow(game.id, row.parentId));
  const file = resolveInside(game.folder, row.path.split('//')[0]!);
  const stat = fs.statSync(file, { throwIfNoEntry: false });
  if (!stat)
    throw new UserError(
      410,
      `${row.path} is no longer in the game folder. Put it back and scan the folder again.`,
    );
  const stamp = outer
    ? `${outer.stamp} ${row.parentEntry} ${row.keyId} ${row.script}`
    : `${file} ${stat.ino} ${stat.size} ${stat.mtimeMs} ${row.keyId} ${row.script}`;
  const keys = keysWith(script, await keyBytes(row.keyId));
  return kept(row.id, stamp, () =>
    outer
      ? { ...openWithin(outer.archive, row.parentEntry, row.path, script, keys), within: row.parentId! }
      : openFile(file, row.path, script, keys),
  );
}

/** What is open under a number, or is opened now. Those used longest ago are closed. */
function kept(id: number, stamp: string, open: () => Omit<Held, 'stamp'>): Held {
  const held = (globalThis.zeroLatchOpened ??= new Map<number, Held>());
  const known = held.get(id);
  held.delete(id);
  if (known?.stamp === stamp) {
    held.set(id, known);
    return known;
  }
  if (known) {
    closeWithin(held, id);
    known.close();
  }
  const opened = { ...open(), stamp };
  held.set(id, opened);
  const outer = new Set<number | undefined>([id]);
  for (let at = opened.within; at !== undefined; at = held.get(at)?.within) outer.add(at);
  for (const [old, { close }] of held) {
    if (held.size <= MOST_OPEN) break;
    if (outer.has(old)) continue;
    closeWithin(held, old);
    close();
    held.delete(old);
  }
  return opened;
}

/** Closes what lies within an archive, which reads from it. */
function closeWithin(held: Map<number, Held>, outer: number): void {
  for (const [id, { within, close }] of held)
    if (within === outer) {
      closeWithin(held, id);
      close();
      held.delete(id);
    }
}

async function heldLoose(game: GameView, row: ArchiveRow): Promise<Held> {
  const catalogue = await gameCatalogue(game.id);
  const position = catalogue?.archives.findIndex(({ id }) => id === row.id) ?? -1;
  if (!catalogue || position < 0) throw new UserError(409, 'Scan the folder first.');
  return kept(row.id, `${game.folder} ${catalogue.stamp}`, () => ({
    archive: looseFiles(game.folder, catalogue, position),
    close: () => undefined,
  }));
}

/** What it takes to open an archive without the database, from the file of the game folder inwards. */
export interface ArchiveLink {
  readonly path: string;
  readonly script: string;
  readonly key: Uint8Array | undefined;
  /** Number of its entry in the one before. */
  readonly parentEntry: number | null;
}

export async function linksOf(gameId: number, archiveId: number): Promise<readonly ArchiveLink[]> {
  const row = await archiveRow(gameId, archiveId);
  if (row.state !== 'open' || row.script === null)
    throw new UserError(409, `${row.path} is not open: ${row.reason}. ${row.nextStep}`);
  const outer = row.parentId === null ? [] : await linksOf(gameId, row.parentId);
  const { path, script, parentEntry } = row;
  return [...outer, { path, script, key: await keyBytes(row.keyId), parentEntry }];
}

/** Says whether what was made of an entry's bytes is still right: it changes with the archive's file, its script or the entry. */
export const stampOfEntry = (gameId: number, row: ArchiveRow, entry: StoredEntry): string =>
  createHash('sha1')
    .update(
      JSON.stringify([
        ...[gameId, row.path, row.size, row.modifiedMs, row.script, row.keyId],
        ...[entry.index, entry.path, entry.size, entry.storedSize, entry.modified],
      ]),
    )
    .digest('hex');

export async function openedEntry(
  gameId: number,
  archiveId: number,
  index: number,
): Promise<{ row: ArchiveRow; archive: EntryStore; entry: StoredEntry }> {
  const { row, archive } = await openedArchive(gameId, archiveId);
  const entry = archive.entries[index];
  if (!entry)
    throw new FormatError('bad-value', {
      file: row.path,
      expected: `an entry below ${archive.entries.length}`,
      actual: `${index}`,
    });
  return { row, archive, entry };
}
