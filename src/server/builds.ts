import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { openArchive, type Archive } from '@/core/archive';
import { FormatError, refOfSpan, type BytesRef } from '@/core/bytes';
import { planArchive, proveBuild, type BuildPlan } from '@/core/mod';
import { ArchiveRow, BuildRow, ChangeRow, models } from '@/db';
import { openFileSource, type FileSource } from '@/platform/node/file-source';
import { resolveInside } from '@/platform/node/inside';
import { nodePrimitives } from '@/platform/node/primitives';
import { writePlan } from '@/platform/node/write-plan';
import { buildFile, type ArchiveReport, type BarPart, type BuildReport } from './build-files';
import { presentGame, type GameView } from './games';
import { hashFile } from './hash-file';
import { activeInstallation, places } from './installations';
import { originalFile } from './installer';
import type { JobContext } from './job-context';
import { modRow } from './mods';
import { keyBytes, keysWith, openFile } from './opened';
import { scriptById } from './scripts';
import { blobFile, storageFolder } from './storage';
import { notFound, UserError } from './user-error';

export interface BuildView {
  readonly id: number;
  readonly holds: boolean;
  readonly createdAt: string;
  readonly report: BuildReport;
  /** Whether the mod has changed since. */
  readonly stale: boolean;
}

const digestOf = (changes: readonly ChangeRow[]): string =>
  createHash('sha256')
    .update(
      changes
        .map((row) => `${row.archivePath}#${row.entryIndex}=${row.preparedBlob}`)
        .sort()
        .join('\n'),
    )
    .digest('hex');

const changesOf = (modId: number): Promise<ChangeRow[]> =>
  ChangeRow.findAll({ where: { modId }, order: [['id', 'ASC']] });

export async function listBuilds(gameId: number, modId: number): Promise<BuildView[]> {
  await modRow(gameId, modId);
  const digest = digestOf(await changesOf(modId));
  const rows = await BuildRow.findAll({ where: { modId }, order: [['id', 'DESC']], limit: 10 });
  return rows.map((row) => ({
    id: row.id,
    holds: row.holds,
    createdAt: row.createdAt.toISOString(),
    report: row.report as BuildReport,
    stale: row.changesDigest !== digest,
  }));
}

/**
 * The file to build from: the original, never an archive that an installation has changed already. So a
 * mod can be built again while it is installed.
 */
export async function sourceFile(game: GameView, archive: string): Promise<string> {
  const installed = (await activeInstallation(game.id))?.files.find((file) => file.path === archive);
  if (!installed) return resolveInside(game.folder, archive);
  const { before } = installed;
  const kept = before === null ? undefined : originalFile(places().originals, before);
  if (before === null || hashFile(kept!) !== before)
    throw new UserError(
      409,
      `The kept original of ${archive} is missing or damaged, so nothing is built on it. Get the file anew from the game.`,
    );
  return kept!;
}

interface Work {
  readonly row: ArchiveRow;
  readonly file: string;
  readonly archive: Archive;
  readonly source: FileSource;
  readonly changes: Map<number, BytesRef>;
  readonly blobs: FileSource[];
}

async function prepareWork(
  game: GameView,
  changes: readonly ChangeRow[],
  archivePath: string,
): Promise<Work> {
  const row = await ArchiveRow.findOne({ where: { gameId: game.id, path: archivePath } });
  if (!row) throw notFound(archivePath);
  const script = row.script === null ? undefined : scriptById(row.script);
  if (!script || row.state !== 'open')
    throw new UserError(409, `${archivePath} is not open: ${row.reason}. ${row.nextStep}`);
  const file = await sourceFile(game, archivePath);
  const { archive, source } = openFile(
    file,
    archivePath,
    script,
    keysWith(script, await keyBytes(row.keyId)),
  );
  const blobs: FileSource[] = [];
  const refs = new Map<number, BytesRef>();
  for (const change of changes) {
    if (!archive.entries[change.entryIndex])
      throw new UserError(
        409,
        `${archivePath} no longer has an entry ${change.entryIndex} for ${change.path}. Take the change out and make it again.`,
      );
    const blob = openFileSource(blobFile(change.preparedBlob!), change.givenName);
    blobs.push(blob);
    refs.set(change.entryIndex, refOfSpan(blob, 0, blob.length));
  }
  return { row, file, archive, source, changes: refs, blobs };
}

/** Builds a mod: each archive that it changes is written anew and proved against what it was made from. */
export async function buildMod(
  gameId: number,
  modId: number,
  job: JobContext,
): Promise<{ buildId: number; holds: boolean }> {
  models();
  const game = await presentGame(gameId);
  await modRow(gameId, modId);
  const changes = await changesOf(modId);
  if (changes.length === 0) throw new UserError(409, 'The mod has no changes yet. Replace an entry first.');
  const unfit = changes.find(({ preparedBlob }) => preparedBlob === null);
  if (unfit) throw new UserError(409, `${unfit.path} does not fit yet. Mend it or take it out, then build.`);
  const row = await BuildRow.create({
    modId,
    holds: false,
    changesDigest: digestOf(changes),
    report: { archives: [] },
  });
  const reports: ArchiveReport[] = [];
  try {
    for (const archivePath of [...new Set(changes.map((change) => change.archivePath))].sort()) {
      const work = await prepareWork(
        game,
        changes.filter((change) => change.archivePath === archivePath),
        archivePath,
      );
      try {
        reports.push(buildArchive(work, buildFile(row.id, archivePath), job));
      } finally {
        for (const source of [work.source, ...work.blobs]) source.close();
      }
    }
  } catch (error) {
    fs.rmSync(storageFolder('builds', String(row.id)), { recursive: true, force: true });
    await row.destroy();
    throw error;
  }
  const holds = reports.every(({ proof }) => proof.holds);
  await row.update({ holds, report: { archives: reports } satisfies BuildReport });
  return { buildId: row.id, holds };
}

function buildArchive(work: Work, target: string, job: JobContext): ArchiveReport {
  const { archive, row, changes } = work;
  const name = row.path;
  const plan = planArchive(archive, changes);
  try {
    requireRoom(target, plan.length, name);
    writePlan(plan, target, (done) => {
      job.check();
      job.progress(done, plan.length, 'bytes', `writing ${name}`);
    });
    return { ...report(work, plan, target, job) };
  } finally {
    plan.discard();
  }
}

/** Said before anything is written, since a full disk is noticed late. */
function requireRoom(target: string, wanted: number, name: string): void {
  const { bavail, bsize } = fs.statfsSync(path.dirname(target));
  const free = bavail * bsize;
  if (free < wanted)
    throw new UserError(
      507,
      `The disk has ${free} bytes left, ${name} needs ${wanted}. Nothing was written. Make room and build again.`,
    );
}

function report(
  { archive, changes, row, file }: Work,
  plan: BuildPlan,
  target: string,
  job: JobContext,
): ArchiveReport {
  const source = openFileSource(target, row.path);
  try {
    const built = openArchive(archive.script, source, { primitives: nodePrimitives, keys: keysOf(archive) });
    const proof = proveBuild(archive, built, changes, (done, total, item) => {
      job.check();
      job.progress(done, total, 'bytes', `proving ${item}`);
    });
    return {
      archive: row.path,
      sourceSha256: hashFile(file)!,
      sha256: hashFile(target)!,
      sizeBefore: archive.source.length,
      sizeAfter: plan.length,
      bar: barOf(plan),
      changes: [...changes.keys()].map((index) => ({
        path: archive.entries[index]!.path,
        storedBefore: archive.entries[index]!.storedSize,
        storedAfter: built.entries[index]!.storedSize,
      })),
      proof,
    };
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    throw error.with({ file: row.path, why: 'the new archive does not open again; it was not kept' });
  } finally {
    source.close();
  }
}

/** The keys that the source archive was opened with. */
function keysOf(archive: Archive): Map<string, Uint8Array> {
  const keys = new Map<string, Uint8Array>();
  for (const name of archive.script.keys.keys()) {
    try {
      keys.set(name, archive.context.key(name));
    } catch (error) {
      // An open archive of a script that knows keys needs none.
      if (!(error instanceof FormatError)) throw error;
    }
  }
  return keys;
}

/** Neighbouring segments of one sort as one part, at most as many as can be told apart on a screen. */
function barOf(plan: BuildPlan): BarPart[] {
  const parts: { sort: string; length: number }[] = [];
  for (const { sort, length } of plan.segments) {
    const shown = sort === 'padding' ? (parts.at(-1)?.sort ?? 'table') : sort;
    const last = parts.at(-1);
    if (last?.sort === shown) last.length += length;
    else parts.push({ sort: shown, length });
  }
  return parts.slice(0, 400);
}
