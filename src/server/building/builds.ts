import { createHash } from 'node:crypto';
import fs from 'node:fs';
import { Op } from 'sequelize';
import type { BuildWay, Conflict } from '@/core/mod';
import { BuildRow, models, type ChangeRow } from '@/db';
import { buildArchive } from './build-archive';
import { buildLoose } from './build-loose';
import { buildFilesOfFolder, partedChanges } from './build-files-of-folder';
import { foldNested } from './build-nested';
import { isOfFolder } from '../mods/change-slot';
import { patchOf } from './build-patch';
import { prepareWork } from './build-work';
import { buildFile, type ArchiveReport, type BuildReport } from './build-files';
import { keepSummary } from './build-summary';
import { presentGame, type GameView } from '../games/games';
import type { JobContext } from '../running/job-context';
import type { MergedFile } from '../mods/merge-tables';
import { alongWith, putTogether, type MixedMod, type ModsTogether } from '../mods/mix';
import { listChanges, modRow } from '../mods/mods';
import { noteFirstHashes } from '../installing/originals';
import { storageFolder } from '../storage/storage';
import { UserError } from '@/platform/user-error';

export interface BuildView {
  readonly id: number;
  readonly holds: boolean;
  readonly createdAt: string;
  readonly report: BuildReport;
  readonly mods: readonly MixedMod[];
  readonly way: BuildWay;
  /** Whether what is to be built has changed since. */
  readonly stale: boolean;
}

/** What a build of a mod would be made of. */
export interface ToBuild {
  readonly mods: readonly MixedMod[];
  readonly conflicts: readonly Conflict[];
  /** Tables that several mods change, put together value by value. */
  readonly together: readonly MergedFile[];
  readonly changes: number;
  readonly archives: readonly string[];
  /** Stands for all that a build follows from, so that what was worked out for it is known to be old. */
  readonly stamp: string;
}

const digestOf = (changes: readonly ChangeRow[]): string =>
  createHash('sha256')
    .update(
      changes
        .map(
          (row) =>
            `${row.archivePath}#${row.entryIndex}=${row.action === 'remove' ? 'gone' : row.preparedBlob}${row.likeIndex === null ? '' : ` like ${row.likeIndex}`}`,
        )
        .sort()
        .join('\n'),
    )
    .digest('hex');

/** What stands for all that a build follows from. */
export const stampOf = ({ looseFolder }: GameView, taken: readonly ChangeRow[]): string =>
  `${digestOf(taken)} ${looseFolder}`;

const archivesOf = (changes: readonly ChangeRow[]): string[] =>
  [
    ...new Set(
      changes.map(({ archivePath, path }) => (isOfFolder(archivePath) ? path : archivePath.split('//')[0]!)),
    ),
  ].sort();

/** One that was cut short tells of no archive. */
const isWhole = (row: BuildRow): boolean => (row.report as BuildReport).archives.length > 0;

/** One that began just now may be under way. */
const YOUNG_MS = 60_000;

/** Throws away builds that were cut short; only while none is being made. */
export async function dropCutBuilds(): Promise<void> {
  models();
  const createdAt = { [Op.lt]: new Date(Date.now() - YOUNG_MS) };
  for (const row of await BuildRow.findAll({ where: { holds: false, createdAt } })) {
    if (isWhole(row)) continue;
    fs.rmSync(storageFolder('builds', String(row.id)), { recursive: true, force: true });
    await row.destroy();
  }
}

export async function toBuild(gameId: number, modId: number): Promise<ToBuild> {
  const { mods, taken, conflicts, together } = await putTogether(gameId, await alongWith(gameId, modId));
  const stamp = stampOf(await presentGame(gameId), taken);
  return { mods, conflicts, together, changes: taken.length, archives: archivesOf(taken), stamp };
}

export async function listBuilds(gameId: number, modId: number): Promise<BuildView[]> {
  await modRow(gameId, modId);
  const digest = digestOf((await putTogether(gameId, await alongWith(gameId, modId))).taken);
  const rows = await BuildRow.findAll({ where: { modId }, order: [['id', 'DESC']], limit: 10 });
  return rows.filter(isWhole).map((row) => ({
    id: row.id,
    holds: row.holds,
    createdAt: row.createdAt.toISOString(),
    report: row.report as BuildReport,
    mods: row.mods as MixedMod[],
    way: row.way as BuildWay,
    stale: row.changesDigest !== digest,
  }));
}

export interface HowToBuild {
  readonly way: BuildWay;
  /** Entries that were damaged before anything was changed are carried on as they are. */
  readonly keepDamaged?: boolean;
}

/** Builds a mod and those that are built along with it. */
export async function buildMod(
  gameId: number,
  modId: number,
  how: HowToBuild,
  job: JobContext,
): Promise<{ buildId: number; holds: boolean }> {
  models();
  return buildMods(gameId, modId, await alongWith(gameId, modId), how, job);
}

/**
 * Builds mods of a game together: each archive that they change is written anew and proved against what it was made from. The build
 * is kept with the mod `owner`.
 */
export async function buildMods(
  gameId: number,
  owner: number,
  modIds: readonly number[],
  { way, keepDamaged = false }: HowToBuild,
  job: JobContext,
): Promise<{ buildId: number; holds: boolean }> {
  const game = await presentGame(gameId);
  const together = await putTogether(gameId, modIds);
  const { mods, taken } = together;
  if (taken.length === 0) throw new UserError(409, 'The mod has no changes yet. Replace an entry first.');
  await refuseUnfit(gameId, together);
  const row = await BuildRow.create({
    modId: owner,
    holds: false,
    changesDigest: digestOf(taken),
    report: { archives: [] },
    mods: [...mods],
    way,
  });
  let reports: ArchiveReport[];
  try {
    reports = await buildArchives(game, together, { way, keepDamaged }, row.id, job);
  } catch (error) {
    fs.rmSync(storageFolder('builds', String(row.id)), { recursive: true, force: true });
    await row.destroy();
    throw error;
  }
  const holds = reports.every(({ proof }) => proof.holds);
  const report: BuildReport = { archives: reports };
  keepSummary(row.id, { game: game.title, mods, way, report });
  await row.update({ holds, report });
  await noteFirstHashes(
    gameId,
    reports.flatMap(({ archive, sourceSha256 }) =>
      sourceSha256 === null ? [] : [{ path: archive, sha256: sourceSha256 }],
    ),
  );
  return { buildId: row.id, holds };
}

async function buildArchives(
  game: GameView,
  { taken: together, mods }: ModsTogether,
  { way, keepDamaged = false }: HowToBuild,
  buildId: number,
  job: JobContext,
): Promise<ArchiveReport[]> {
  const targetOf = (file: string): string => buildFile(buildId, file);
  const { files, entries: taken } = partedChanges(await foldNested(game, together, job));
  const reports: ArchiveReport[] = await buildFilesOfFolder(game, files, targetOf, job);
  if (way === 'loose') return [...reports, ...buildLoose(game, taken, targetOf, job)];
  const title = mods.map((mod) => mod.title).join(' ');
  for (const archivePath of archivesOf(taken)) {
    const own = taken.filter((change) => change.archivePath === archivePath);
    const patch = way === 'patch' ? await patchOf(game.id, archivePath, own, title) : undefined;
    const work = await prepareWork(game, own, archivePath, patch);
    try {
      // What is new has no places to keep.
      const how = way === 'patch' ? 'packed' : way;
      reports.push(
        ...(await buildArchive(work, { way: how, keepDamaged }, patch?.name ?? archivePath, targetOf, job)),
      );
    } finally {
      work.close();
    }
  }
  return reports;
}

/** Says of which mod a change is that does not fit; one that another mod overrides need not. */
async function refuseUnfit(gameId: number, { mods, taken }: ModsTogether): Promise<void> {
  const ids = new Set(taken.map(({ id }) => id));
  for (const mod of mods) {
    const unfit = (await listChanges(gameId, mod.id)).find(
      ({ id, action, fit, preparedSize }) =>
        ids.has(id) && action !== 'remove' && (fit === 'does not fit' || preparedSize === null),
    );
    if (unfit)
      throw new UserError(
        409,
        `${unfit.path} of ${mod.title} does not fit yet. Mend it or take it out, then build.`,
      );
  }
}
