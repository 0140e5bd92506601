import { createHash } from 'node:crypto';
import fs from 'node:fs';
import type { EntryStore, StoredEntry } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import { ArchiveRow, KeyRow, models } from '@/db';
import { resolveInside } from '@/platform/node/inside';
import { sayWays, type SaidWays } from '@/platform/node/media-scripts';
import { gameCatalogue } from '../entries/catalogue';
import { saidWays } from '../entries/way-choices';
import { presentGame, type GameView } from '../games/games';
import { currentScope, heldOrOpened, keepOpened, withOpened, type Held } from './held';
import { looseFiles } from './loose-files';
import { keysWith, openFile, openWithin } from './open-file';
import { scriptById } from './scripts';
import { notFound, UserError } from '@/platform/user-error';

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

/** An archive of a game that is open. */
export interface OpenedArchive {
  readonly gameId: number;
  readonly row: ArchiveRow;
  readonly archive: EntryStore;
  /** Changes with what counts as the original, where that is open and not what lies in the folder. */
  readonly origin?: string | undefined;
}

/** An entry of one; what is asked about an entry is asked of this, so that one request looks it up once. */
export interface OpenedEntry extends OpenedArchive {
  readonly entry: StoredEntry;
}

/**
 * An archive of a game, opened with the key that the scan proved; kept open while the file stays the same. It may be closed once others
 * are opened, unless whoever asks does so `withOpened`, as every request does.
 */
export function openedArchive(gameId: number, archiveId: number): Promise<OpenedArchive> {
  const known = currentScope()?.known;
  const name = `${gameId} ${archiveId}`;
  const before = known?.get(name) as Promise<OpenedArchive> | undefined;
  if (before) return before;
  const asked = openNow(gameId, archiveId);
  known?.set(name, asked);
  return asked;
}

async function openNow(gameId: number, archiveId: number): Promise<OpenedArchive> {
  const game = await presentGame(gameId);
  const row = await archiveRow(gameId, archiveId);
  const { archive } = await heldArchive(game, row);
  return { gameId, row, archive: sayWays(archive, await saidWays(gameId)) };
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
  return heldOrOpened(row.id, stamp, row.parentId ?? undefined, () =>
    outer
      ? openWithin(outer.archive, row.parentEntry, row.path, script, keys)
      : openFile(file, row.path, script, keys),
  );
}

async function heldLoose(game: GameView, row: ArchiveRow): Promise<Held> {
  const catalogue = await gameCatalogue(game.id);
  const position = catalogue?.archives.findIndex(({ id }) => id === row.id) ?? -1;
  if (!catalogue || position < 0) throw new UserError(409, 'Scan the folder first.');
  return heldOrOpened(row.id, `${game.folder} ${catalogue.stamp}`, undefined, () => ({
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
  /** What was said of its sounds. */
  readonly ways: SaidWays;
}

export async function linksOf(gameId: number, archiveId: number): Promise<readonly ArchiveLink[]> {
  const row = await archiveRow(gameId, archiveId);
  if (row.state !== 'open' || row.script === null)
    throw new UserError(409, `${row.path} is not open: ${row.reason}. ${row.nextStep}`);
  const outer = row.parentId === null ? [] : await linksOf(gameId, row.parentId);
  const { path, script, parentEntry } = row;
  return [
    ...outer,
    { path, script, key: await keyBytes(row.keyId), parentEntry, ways: await saidWays(gameId) },
  ];
}

/** Says whether what was made of an entry's bytes is still right: it changes with the archive's file, its script or the entry. */
export const stampOfEntry = ({ gameId, row, entry, origin }: OpenedEntry): string =>
  createHash('sha1')
    .update(
      JSON.stringify([
        ...[gameId, row.path, row.size, row.modifiedMs, row.script, row.keyId],
        ...[entry.index, entry.path, entry.size, entry.storedSize, entry.modified],
        ...(origin === undefined ? [] : [origin]),
      ]),
    )
    .digest('hex');

export async function openedEntry(gameId: number, archiveId: number, index: number): Promise<OpenedEntry> {
  const opened = await openedArchive(gameId, archiveId);
  const entry = opened.archive.entries[index];
  if (!entry)
    throw new FormatError('bad-value', {
      file: opened.row.path,
      expected: `an entry below ${opened.archive.entries.length}`,
      actual: `${index}`,
    });
  return { ...opened, entry };
}

/** Archives of a game that are gone through one after the other: each is opened once, and stays open until the next one is asked for. */
export class ArchivesInTurn {
  private at: { readonly opened: OpenedArchive; readonly over: () => void } | undefined;

  constructor(private readonly gameId: number) {}

  async archive(archiveId: number): Promise<OpenedArchive> {
    if (this.at?.opened.row.id !== archiveId) {
      this.end();
      this.at = await withOpened(async () => ({
        opened: await openedArchive(this.gameId, archiveId),
        over: keepOpened(),
      }));
    }
    return this.at!.opened;
  }

  end(): void {
    this.at?.over();
    this.at = undefined;
  }
}
