import fs from 'node:fs';
import { InstallationRow, models } from '@/db';
import { resolveInside } from '@/platform/node/inside';
import { presentGame } from '../games/games';
import { knownHash } from '../building/known-hash';
import { originalFile, type InstallerPlaces } from './placing';
import { storageFolder } from '../storage/storage';

/** A file that an installation has changed: its original and what lies there now, by hash. */
export interface InstalledFile {
  readonly path: string;
  readonly before: string | null;
  readonly after: string | null;
  /** The outermost folder that was made for it. */
  readonly made?: string;
  /** What something else had written there, kept when the original was put in its place. */
  readonly found?: string;
}

export interface InstallationView {
  readonly id: number;
  /** The build that was put in; null where that is no longer known. */
  readonly buildId: number | null;
  readonly title: string;
  readonly state: 'installed' | 'restored' | 'replaced';
  readonly files: readonly InstalledFile[];
  /** What is in it, from first to last. */
  readonly mods: readonly { readonly id: number; readonly title: string }[];
  readonly createdAt: string;
  readonly endedAt: string | null;
}

export const places = (): InstallerPlaces => ({
  originals: storageFolder('originals'),
  journals: storageFolder('journals'),
});

const viewOf = (row: InstallationRow): InstallationView => ({
  id: row.id,
  buildId: row.buildId,
  title: row.title,
  state: row.state as InstallationView['state'],
  files: row.files as InstalledFile[],
  mods: row.mods as InstallationView['mods'],
  createdAt: row.createdAt.toISOString(),
  endedAt: row.endedAt?.toISOString() ?? null,
});

export async function listInstallations(gameId: number): Promise<InstallationView[]> {
  models();
  return (await InstallationRow.findAll({ where: { gameId }, order: [['id', 'DESC']], limit: 30 })).map(
    viewOf,
  );
}

export const activeRow = (gameId: number): Promise<InstallationRow | null> =>
  InstallationRow.findOne({ where: { gameId, state: 'installed' }, order: [['id', 'DESC']] });

/** What is installed in a game now. A folder is always its originals and at most one installation. */
export async function activeInstallation(gameId: number): Promise<InstallationView | undefined> {
  models();
  const row = await activeRow(gameId);
  return row ? viewOf(row) : undefined;
}

/** Files that are in a game's folder only because of what is installed. */
export async function broughtFiles(gameId: number): Promise<ReadonlySet<string>> {
  const files = (await activeInstallation(gameId))?.files ?? [];
  return new Set(files.filter(({ before }) => before === null).map(({ path }) => path));
}

/** An installed file as it is right now; `changed` where something else wrote it since. */
export interface FileNow {
  readonly path: string;
  readonly state: 'as installed' | 'original' | 'changed' | 'missing';
  /** Whether the original is kept, and reads back right. */
  readonly kept: boolean;
  readonly now: string | null;
  readonly size: number | null;
  readonly modifiedMs: number | null;
  readonly originalSize: number | null;
}

/** How each installed file looks right now. */
export async function checkInstalled(gameId: number): Promise<FileNow[]> {
  const game = await presentGame(gameId);
  const active = await activeInstallation(gameId);
  return Promise.all(
    (active?.files ?? []).map(async ({ path, before, after }): Promise<FileNow> => {
      const file = resolveInside(game.folder, path);
      const original = before === null ? undefined : originalFile(places().originals, before);
      const now = (await knownHash(file)) ?? null;
      const stat = now === null ? undefined : fs.statSync(file, { throwIfNoEntry: false });
      const state =
        now === after ? 'as installed' : now === before ? 'original' : now === null ? 'missing' : 'changed';
      return {
        ...{ path, state, now },
        kept: original === undefined || (await knownHash(original)) === before,
        size: stat?.size ?? null,
        modifiedMs: stat?.mtimeMs ?? null,
        originalSize:
          original === undefined ? null : (fs.statSync(original, { throwIfNoEntry: false })?.size ?? null),
      };
    }),
  );
}
