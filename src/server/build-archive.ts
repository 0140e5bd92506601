import fs from 'node:fs';
import path from 'node:path';
import { openArchive, type Archive } from '@/core/archive';
import { FormatError, refOfSpan, type BytesRef } from '@/core/bytes';
import { planArchive, proveBuild, type BuildPlan, type FilePlan, type Way } from '@/core/mod';
import { ArchiveRow, type ChangeRow } from '@/db';
import { companionsOf } from '@/platform/node/companions';
import { openFileSource, type FileSource } from '@/platform/node/file-source';
import { nodePrimitives } from '@/platform/node/primitives';
import { writePlan } from '@/platform/node/write-plan';
import type { ArchiveReport, BarPart } from './build-files';
import type { GameView } from './games';
import { hashBeside } from './hash-beside';
import { knownHash } from './known-hash';
import type { JobContext } from './job-context';
import { besides, keysWith, openFile } from './open-file';
import { keyBytes } from './opened';
import { scriptById } from './scripts';
import { sourceFiles } from './source-files';
import { blobFile } from './storage';
import { notFound, UserError } from './user-error';

/** An archive of a game with the changes that are to go into it. */
export interface Work {
  readonly row: ArchiveRow;
  /** Where a file of the game lies as it was before any installation. */
  readonly sourceOf: (path: string) => string;
  readonly archive: Archive;
  readonly changes: Map<number, BytesRef>;
  readonly close: () => void;
}

/** Opens the original of an archive and the changes; `close` lets go of them. */
export async function prepareWork(
  game: GameView,
  changes: readonly ChangeRow[],
  archivePath: string,
): Promise<Work> {
  const row = await ArchiveRow.findOne({ where: { gameId: game.id, path: archivePath } });
  if (!row) throw notFound(archivePath);
  const script = row.script === null ? undefined : scriptById(row.script);
  if (!script || row.state !== 'open')
    throw new UserError(409, `${archivePath} is not open: ${row.reason}. ${row.nextStep}`);
  const sourceOf = await sourceFiles(game);
  const { archive, close: closeArchive } = openFile(
    sourceOf(archivePath),
    archivePath,
    script,
    keysWith(script, await keyBytes(row.keyId)),
    undefined,
    companionsOf(path.join(game.folder, archivePath), { nameOf: besides(archivePath), inPlaceOf: sourceOf }),
  );
  const blobs: FileSource[] = [];
  const close = (): void => {
    closeArchive();
    for (const blob of blobs) blob.close();
  };
  const refs = new Map<number, BytesRef>();
  try {
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
  } catch (error) {
    close();
    throw error;
  }
  return { row, sourceOf, archive, changes: refs, close };
}

/** One report for each file of the archive that comes out otherwise than it was. */
export async function buildArchive(
  work: Work,
  way: Way,
  targetOf: (file: string) => string,
  job: JobContext,
): Promise<ArchiveReport[]> {
  const { archive, row, changes } = work;
  const name = row.path;
  const plan = planArchive(archive, changes, { way });
  try {
    requireRoom(targetOf(name), plan.length, name);
    const targetFor = ({ file }: FilePlan): string => targetOf(file.space.source.name);
    // Beside writing and proving, since each of them takes as long.
    const before = plan.files.map(({ file }) => knownHash(work.sourceOf(file.space.source.name)));
    writePlan(plan, targetFor, (done) => {
      job.check();
      job.progress(done, plan.length, 'bytes', `writing ${name}`);
    });
    const after = plan.files.map((file) => hashBeside(targetFor(file)));
    return await report(work, plan, targetFor, { before, after }, job);
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

/** Hashes of the files of a plan, in its order, that are still worked out. */
interface Hashes {
  readonly before: readonly Promise<string | undefined>[];
  readonly after: readonly Promise<string | undefined>[];
}

async function report(
  { archive, changes, row }: Work,
  plan: BuildPlan,
  targetOf: (file: FilePlan) => string,
  hashes: Hashes,
  job: JobContext,
): Promise<ArchiveReport[]> {
  const sources = plan.files.map((file) => openFileSource(targetOf(file), file.file.space.source.name));
  try {
    const built = openArchive(archive.script, sources[0]!, {
      primitives: nodePrimitives,
      keys: keysOf(archive),
      companion: (_fileName, type, number) =>
        sources[plan.files.findIndex(({ file }) => file.type?.name === type && file.number === number)],
    });
    const proof = proveBuild(archive, built, { changes }, (done, total, item) => {
      job.check();
      job.progress(done, total, 'bytes', `proving ${item}`);
    });
    const [before, after] = [await Promise.all(hashes.before), await Promise.all(hashes.after)];
    return plan.files.flatMap((file, i): ArchiveReport[] => {
      const { source } = file.file.space;
      const sourceSha256 = before[i]!;
      const sha256 = after[i]!;
      if (file.file.index > 0 && sha256 === sourceSha256) {
        fs.rmSync(targetOf(file));
        return [];
      }
      return [
        {
          archive: source.name,
          sourceSha256,
          sha256,
          sizeBefore: source.length,
          sizeAfter: file.length,
          bar: barOf(file),
          changes: [...changes.keys()]
            .filter((index) => ownFileOf(archive, index) === file.file.index)
            .map((index) => ({
              path: archive.entries[index]!.path,
              storedBefore: archive.entries[index]!.storedSize,
              storedAfter: built.entries[index]!.storedSize,
            })),
          proof,
        },
      ];
    });
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    throw error.with({ file: row.path, why: 'the new archive does not open again; it was not kept' });
  } finally {
    for (const source of sources) source.close();
  }
}

/** The file on disk that an entry is in, through files that lie inside others. */
function ownFileOf(archive: Archive, index: number): number {
  let file = archive.files[archive.entries[index]!.file]!;
  while (file.holders) file = archive.files[file.holders[0]?.node.space.file ?? 0]!;
  return file.index;
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
function barOf(plan: FilePlan): BarPart[] {
  const parts: { sort: string; length: number }[] = [];
  for (const { sort, length } of plan.segments) {
    const shown = sort === 'padding' ? (parts.at(-1)?.sort ?? 'table') : sort;
    const last = parts.at(-1);
    if (last?.sort === shown) last.length += length;
    else parts.push({ sort: shown, length });
  }
  return parts.slice(0, 400);
}
