import fs from 'node:fs';
import { BuildRow, ModRow, models } from '@/db';
import { resolveInside } from '@/platform/node/inside';
import { buildFile, type BuildReport } from '../building/build-files';
import { checkSummary } from '../building/build-summary';
import { presentGame, type GameView } from '../games/games';
import { activeRow, places, type InstalledFile, type InstallationView } from './installations';
import { recordOperation, type OperationAbout } from './installation-records';
import { closeJournal, operate, originalFile, type Target } from './placing';
import type { JobContext } from '../running/job-context';
import { originalChoices, questionOriginals, type Questioned } from './originals';
import { notFound, UserError } from '@/platform/user-error';

/** One file of what an installation is about to do. */
export interface PlannedFile {
  readonly path: string;
  readonly does: 'overwrite' | 'add' | 'put the original back' | 'take out';
  readonly sizeBefore: number | null;
  readonly sizeAfter: number | null;
  readonly after: string | null;
  /** Size of the original, and whether it is kept already or will be first. */
  readonly original: { readonly size: number; readonly isKept: boolean } | null;
}

/** All that an installation would do, before anything is done. */
export interface InstallPlan {
  readonly files: readonly PlannedFile[];
  readonly questioned: readonly Questioned[];
  /** Bytes of what is kept before it is overwritten, and those that the folder needs while files are staged. */
  readonly keeps: number;
  readonly needs: number;
  readonly terms: string;
}

interface Work {
  readonly game: GameView;
  readonly build: BuildRow;
  readonly mods: InstallationView['mods'];
  readonly files: readonly InstalledFile[];
  readonly targets: readonly Target[];
}

const titleOf = (mods: InstallationView['mods']): string => mods.map(({ title }) => title).join(' and ');

/** Works out what an installation changes: files of the build, and files of the one before that go back. */
async function workOf(gameId: number, buildId: number): Promise<Work> {
  models();
  const game = await presentGame(gameId);
  const build = await BuildRow.findByPk(buildId);
  const mod = build && (await ModRow.findOne({ where: { id: build.modId, gameId } }));
  if (!build || !mod) throw notFound('The build');
  const built = build.mods as InstallationView['mods'];
  const active = await activeRow(gameId);
  const choices = await originalChoices(gameId);
  const had = new Map(((active?.files ?? []) as InstalledFile[]).map((file) => [file.path, file]));
  const files: InstalledFile[] = [];
  const targets: Target[] = [];
  for (const report of (build.report as BuildReport).archives) {
    const { archive: path, sourceSha256, sha256 } = report;
    const old = had.get(path);
    had.delete(path);
    const choice = choices.get(path);
    // Built before another file was said to be the original.
    const isOutdated = !old && choice?.found === sourceSha256 && choice.original !== sourceSha256;
    const original = old ? old.before : sourceSha256;
    if (original !== sourceSha256 || isOutdated)
      throw new UserError(
        409,
        `${path} was built from another file than the original in this game. Build again.`,
      );
    const found = choice && choice.original === sourceSha256 ? choice.found : sourceSha256;
    const made = old?.made === undefined ? {} : { made: old.made };
    files.push({ path, before: original, after: sha256, ...made });
    targets.push({
      ...{ path, after: sha256, from: buildFile(buildId, path), ...made },
      before: old ? old.after : found,
    });
  }
  for (const old of had.values()) targets.push(backToOriginal(old));
  return { game, build, mods: built.length > 0 ? built : [{ id: mod.id, title: mod.title }], files, targets };
}

export function backToOriginal(file: InstalledFile): Target {
  const from = file.before === null ? undefined : originalFile(places().originals, file.before);
  return {
    ...{ path: file.path, before: file.after, after: file.before, from },
    ...(file.made !== undefined && { made: file.made }),
  };
}

const sizeOf = (file: string): number | null => fs.statSync(file, { throwIfNoEntry: false })?.size ?? null;

/** Lists every file that an installation would write, without writing any. */
export async function planInstall(gameId: number, buildId: number): Promise<InstallPlan> {
  const { game, files, targets } = await workOf(gameId, buildId);
  const added = new Set(files.filter(({ before }) => before === null).map(({ path }) => path));
  const built = new Set(files.map(({ path }) => path));
  const originals = new Map(files.map((file) => [file.path, file.before]));
  const keptSize = (sha256: string | null | undefined): number | null =>
    sha256 ? sizeOf(originalFile(places().originals, sha256)) : null;
  let keeps = 0;
  const planned = targets.map(({ path, before, after, from }): PlannedFile => {
    const now = resolveInside(game.folder, path);
    const isBuilt = built.has(path);
    const size = sizeOf(now);
    if (before !== null && keptSize(before) !== size) keeps += size ?? 0;
    const original = originals.has(path) ? originals.get(path) : after;
    const kept = keptSize(original);
    return {
      path,
      does: isBuilt
        ? added.has(path)
          ? 'add'
          : 'overwrite'
        : after === null
          ? 'take out'
          : 'put the original back',
      sizeBefore: size,
      sizeAfter: from === undefined ? null : sizeOf(from),
      after,
      original: original ? { size: kept ?? size ?? 0, isKept: kept !== null } : null,
    };
  });
  return {
    files: planned,
    questioned: await questionedOf(gameId, targets, built),
    keeps,
    needs: planned.reduce((sum, { sizeAfter }) => sum + (sizeAfter ?? 0), 0),
    terms: game.terms,
  };
}

async function questionedOf(
  gameId: number,
  targets: readonly Target[],
  built: ReadonlySet<string>,
): Promise<Questioned[]> {
  const overwritten = targets.filter(({ path, before }) => built.has(path) && before !== null);
  return questionOriginals(
    gameId,
    overwritten.map(({ path, before }) => ({ path, sha256: before! })),
  );
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
  const { game, build, mods, files, targets } = await workOf(gameId, buildId);
  if (!build.holds)
    throw new UserError(
      409,
      'The proof of this build does not hold, so it is not installed. Read the proof and build again.',
    );
  checkSummary(buildId, build.report as BuildReport);
  const [doubt] = await questionedOf(gameId, targets, new Set(files.map(({ path }) => path)));
  if (doubt)
    throw new UserError(
      409,
      `${doubt.path} may not be what the game came with. ${doubt.doubts[0]}. Say on the Build screen what counts as its original, then install.`,
    );
  requireRoom(game.folder, targets);
  const title = titleOf(mods);
  const about: OperationAbout = {
    ...{ does: 'install', gameId, buildId, title },
    files: [...files],
    mods: [...mods],
  };
  const journal = operate(game.folder, `Install ${title}`, targets, places(), {
    ...{ about, job: job.id },
    onStep: stepper(job, targets.length),
  });
  const installationId = await recordOperation(journal);
  closeJournal(places().journals, journal.id);
  return { installationId: installationId!, files: files.length };
}

/** New files lie beside the old ones before they take their places; a full disk is said before the first is written. */
function requireRoom(folder: string, targets: readonly Target[]): void {
  const needed = targets.reduce((sum, { from }) => sum + (from === undefined ? 0 : (sizeOf(from) ?? 0)), 0);
  const { bavail, bsize } = fs.statfsSync(folder);
  if (needed > bavail * bsize)
    throw new UserError(
      507,
      `The disk of ${folder} has ${bavail * bsize} bytes left, and ${needed} are needed. Nothing was written. Make room and install again.`,
    );
}

/** Progress of an operation: each file is kept, written and placed. */
export function stepper(job: JobContext, count: number): (what: string) => void {
  let done = 0;
  return (what) => job.progress(done++, 3 * count, 'items', what);
}
