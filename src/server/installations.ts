import { BuildRow, InstallationRow, ModRow, models } from '@/db';
import { buildFile, type BuildReport } from './build-files';
import { listGames, presentGame } from './games';
import {
  operate,
  originalFile,
  recover,
  type InstallerPlaces,
  type Recovered,
  type Target,
} from './installer';
import type { JobContext } from './job-context';
import { hashFile } from './hash-file';
import { resolveInside } from '@/platform/node/inside';
import { storageFolder } from './storage';
import { notFound, UserError } from './user-error';

/** A file that an installation has changed: its original and what lies there now, by hash. */
export interface InstalledFile {
  readonly path: string;
  readonly before: string | null;
  readonly after: string | null;
}

export interface InstallationView {
  readonly id: number;
  readonly title: string;
  readonly state: 'installed' | 'restored' | 'replaced';
  readonly files: readonly InstalledFile[];
  readonly createdAt: string;
  readonly endedAt: string | null;
}

export const places = (): InstallerPlaces => ({
  originals: storageFolder('originals'),
  journals: storageFolder('journals'),
});

const viewOf = (row: InstallationRow): InstallationView => ({
  id: row.id,
  title: row.title,
  state: row.state as InstallationView['state'],
  files: row.files as InstalledFile[],
  createdAt: row.createdAt.toISOString(),
  endedAt: row.endedAt?.toISOString() ?? null,
});

export async function listInstallations(gameId: number): Promise<InstallationView[]> {
  models();
  return (await InstallationRow.findAll({ where: { gameId }, order: [['id', 'DESC']], limit: 30 })).map(
    viewOf,
  );
}

const activeRow = (gameId: number): Promise<InstallationRow | null> =>
  InstallationRow.findOne({ where: { gameId, state: 'installed' }, order: [['id', 'DESC']] });

/** What is installed in a game now. A folder is always its originals and at most one installation. */
export async function activeInstallation(gameId: number): Promise<InstallationView | undefined> {
  models();
  const row = await activeRow(gameId);
  return row ? viewOf(row) : undefined;
}

/** How each installed file looks right now. */
export async function checkInstalled(
  gameId: number,
): Promise<{ path: string; state: 'as installed' | 'original' | 'changed' | 'missing'; kept: boolean }[]> {
  const game = await presentGame(gameId);
  const active = await activeInstallation(gameId);
  return (active?.files ?? []).map(({ path, before, after }) => {
    const now = hashFile(resolveInside(game.folder, path)) ?? null;
    const state =
      now === after ? 'as installed' : now === before ? 'original' : now === null ? 'missing' : 'changed';
    return {
      path,
      state,
      kept: before === null || hashFile(originalFile(places().originals, before)) === before,
    };
  });
}

/**
 * Puts a proved build into the game folder over kept originals. An installation that is there already is
 * replaced: files that the new one does not change go back to their originals in the same step.
 */
export async function installBuild(
  gameId: number,
  buildId: number,
  job: JobContext,
): Promise<{ installationId: number; files: number }> {
  models();
  const game = await presentGame(gameId);
  const build = await BuildRow.findByPk(buildId);
  const mod = build && (await ModRow.findOne({ where: { id: build.modId, gameId } }));
  if (!build || !mod) throw notFound('The build');
  if (!build.holds)
    throw new UserError(
      409,
      'The proof of this build does not hold, so it is not installed. Read the proof and build again.',
    );
  const active = await activeRow(gameId);
  const had = new Map(((active?.files ?? []) as InstalledFile[]).map((file) => [file.path, file]));
  const files: InstalledFile[] = [];
  const targets: Target[] = [];
  for (const report of (build.report as BuildReport).archives) {
    const old = had.get(report.archive);
    had.delete(report.archive);
    const original = old ? old.before : report.sourceSha256;
    if (original !== report.sourceSha256)
      throw new UserError(
        409,
        `${report.archive} was built from another file than the original in this game. Build again.`,
      );
    files.push({ path: report.archive, before: original, after: report.sha256 });
    targets.push({
      path: report.archive,
      before: old ? old.after : original,
      after: report.sha256,
      from: buildFile(buildId, report.archive),
    });
  }
  for (const old of had.values()) targets.push(backToOriginal(old));
  operate(game.folder, `Install ${mod.title}`, targets, places(), stepper(job, targets.length));
  await active?.update({ state: 'replaced', endedAt: new Date() });
  const row = await InstallationRow.create({ gameId, buildId, title: mod.title, state: 'installed', files });
  return { installationId: row.id, files: files.length };
}

function backToOriginal(file: InstalledFile): Target {
  const from = file.before === null ? undefined : originalFile(places().originals, file.before);
  return { path: file.path, before: file.after, after: file.before, from };
}

function stepper(job: JobContext, count: number): (what: string) => void {
  let done = 0;
  return (what) => job.progress(done++, 3 * count, 'items', what);
}

/** Puts all originals back in one step. */
export async function restoreGame(gameId: number, job: JobContext): Promise<{ files: number }> {
  models();
  const game = await presentGame(gameId);
  const active = await activeRow(gameId);
  if (!active) throw new UserError(409, 'No mod is installed in this game; the folder holds its originals.');
  const files = active.files as InstalledFile[];
  // A file that is its original already, put back by the game's own repair say, is left alone.
  const targets = files
    .filter(({ path, before }) => (hashFile(resolveInside(game.folder, path)) ?? null) !== before)
    .map(backToOriginal);
  operate(game.folder, `Restore ${game.title}`, targets, places(), stepper(job, targets.length));
  await active.update({ state: 'restored', endedAt: new Date() });
  return { files: targets.length };
}

/** Mends what a kill has cut short, in the folders and in the records. */
export async function recoverInstallations(): Promise<Recovered[]> {
  models();
  const recovered = recover(places());
  for (const one of recovered) if (one.outcome === 'new') await settleRecords(one);
  return recovered;
}

/** After a kill between the last rename and the record, the records are brought in line with the folder. */
async function settleRecords({ folder, files, title }: Recovered): Promise<void> {
  const game = (await listGames()).find((one) => one.folder === folder);
  if (!game) return;
  const active = await activeRow(game.id);
  const had = new Map(((active?.files ?? []) as InstalledFile[]).map((file) => [file.path, file]));
  const now = files
    .map((file) => ({
      path: file.path,
      before: had.get(file.path)?.before ?? file.before,
      after: file.after,
    }))
    .filter(({ before, after }) => before !== after);
  await active?.update({ state: now.length > 0 ? 'replaced' : 'restored', endedAt: new Date() });
  if (now.length > 0)
    await InstallationRow.create({
      gameId: game.id,
      buildId: null,
      title: title.replace(/^Install /, ''),
      state: 'installed',
      files: now,
    });
}
