import fs from 'node:fs';
import path from 'node:path';
import { openArchive, type Archive } from '@/core/archive';
import { collect, FormatError } from '@/core/bytes';
import { planArchive, proveBuild, type BuildPlan, type FilePlan, type Way } from '@/core/mod';
import { baseName } from '@/core/script';
import { openFileSource, type FileSource } from '@/platform/node/file-source';
import { nodePrimitives } from '@/platform/node/primitives';
import { stagePlan, type StagedFiles } from '@/platform/node/write-plan';
import type { ArchiveReport, BarPart } from './build-files';
import type { Work } from './build-work';
import { hashBeside, type HashPiece } from './hash-beside';
import { knownHash } from './known-hash';
import type { JobContext } from '../running/job-context';
import { keysOf } from '../opening/keys-of';
import { besides } from '../opening/open-file';
import { UserError } from '@/platform/user-error';

export interface BuildOptions {
  readonly way: Way;
  /** Entries that were damaged before are carried on as they are. */
  readonly keepDamaged: boolean;
}

/**
 * One report for each file of the archive that comes out otherwise than it was. Where `name` is another one than the archive's own, it
 * is written beside it as a new archive.
 */
export async function buildArchive(
  work: Work,
  { way, keepDamaged }: BuildOptions,
  name: string,
  targetOf: (file: string) => string,
  job: JobContext,
): Promise<ArchiveReport[]> {
  const { planned, edited, changes } = work;
  const isNew = name !== work.row.path;
  const plan = planArchive(planned, changes, { way, ...(edited && { edits: edited.marks }) });
  try {
    requireRoom(targetOf(name), plan.length, name);
    const nameFor = ({ file }: FilePlan): string =>
      !isNew
        ? file.space.source.name
        : file.index === 0
          ? name
          : besides(name)(planned.nameBeside(file, baseName(name)));
    const targetFor = (file: FilePlan): string => targetOf(nameFor(file));
    // Beside writing and proving, since each of them takes as long.
    const before = plan.files.map(({ file }) =>
      isNew ? undefined : knownHash(work.sourceOf(file.space.source.name)),
    );
    const hashed = plan.files.map((file) => {
      const pieces = piecesOf(file);
      return pieces && hashBeside(work.sourceOf(file.file.space.source.name), pieces);
    });
    const staged = stagePlan(plan, targetFor, (done) => {
      job.check();
      job.progress(done, plan.length, 'bytes', `writing ${name}`);
    });
    try {
      const after = plan.files.map((file, i) => hashed[i] ?? hashBeside(staged.temporaryOf(file)));
      const reports = await report(work, plan, { staged, nameFor, before, after, keepDamaged }, job);
      // What does not hold gets no name; its report says why.
      if (reports.every(({ proof }) => proof.holds)) {
        staged.keep();
        for (const file of plan.files)
          if (!reports.some(({ archive }) => archive === nameFor(file))) fs.rmSync(targetFor(file));
      }
      return reports;
    } finally {
      staged.drop();
    }
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

/** Made bytes of a file are handed over to be hashed up to this many. */
const MOST_MADE_BYTES = 64 << 20;

/**
 * What a file will be, to be hashed while it is written. Where a disk writes something else, that is found before anything is overwritten: whoever
 * takes the file reads it back against this hash. Undefined where it is not copied from a file of its own, or too much of it is made.
 */
function piecesOf({ file, segments }: FilePlan): HashPiece[] | undefined {
  if ((file.space.source as Partial<FileSource>).fd === undefined) return undefined;
  const made = segments.reduce((sum, { copyFrom, length }) => sum + (copyFrom === undefined ? length : 0), 0);
  if (made > MOST_MADE_BYTES) return undefined;
  const pieces: HashPiece[] = [];
  for (const { copyFrom: from, length, bytes } of segments)
    if (from === undefined) pieces.push(collect(bytes));
    else {
      const last = pieces.at(-1);
      if (last && 'from' in last && last.from + last.length === from)
        pieces[pieces.length - 1] = { from: last.from, length: last.length + length };
      else pieces.push({ from, length });
    }
  return pieces;
}

/** What is known of the files of a plan, in its order; hashes that are still worked out. */
interface Written {
  readonly staged: StagedFiles;
  readonly keepDamaged: boolean;
  /** Path in the game folder. */
  readonly nameFor: (file: FilePlan) => string;
  /** Of the file that each was made from; undefined for a new one. */
  readonly before: readonly (Promise<string | undefined> | undefined)[];
  readonly after: readonly Promise<string | undefined>[];
}

async function report(
  { archive, planned, edited, changes, told, row }: Work,
  plan: BuildPlan,
  { staged, keepDamaged, nameFor, ...hashes }: Written,
  job: JobContext,
): Promise<ArchiveReport[]> {
  const sources = plan.files.map((file) => openFileSource(staged.temporaryOf(file), nameFor(file)));
  try {
    const built = openArchive(archive.script, sources[0]!, {
      primitives: nodePrimitives,
      keys: keysOf(archive),
      companion: (_fileName, type, number) =>
        sources[plan.files.findIndex(({ file }) => file.type?.name === type && file.number === number)],
    });
    const claims = { changes, edited };
    const proof = proveBuild(archive, built, claims, {
      keepDamaged,
      progress(done, total, item) {
        job.check();
        job.progress(done, total, 'bytes', `proving ${item}`);
      },
    });
    const [before, after] = [
      await Promise.all(hashes.before.map((one) => one ?? Promise.resolve(undefined))),
      await Promise.all(hashes.after),
    ];
    return plan.files.flatMap((file, i): ArchiveReport[] => {
      const sourceSha256 = before[i] ?? null;
      const sha256 = after[i]!;
      if (file.file.index > 0 && sha256 === sourceSha256) return [];
      return [
        {
          archive: nameFor(file),
          sourceSha256,
          sha256,
          sizeBefore: sourceSha256 === null ? 0 : file.file.space.source.length,
          sizeAfter: file.length,
          bar: barOf(file),
          changes: told
            .filter(({ was, now }) => fileOf(archive, was, planned, now) === file.file.index)
            .map(({ path, was, now }) => ({
              path,
              storedBefore: was === undefined ? null : archive.entries[was]!.storedSize,
              storedAfter: now === undefined ? null : (built.entries[now]?.storedSize ?? null),
            })),
          proof: { holds: proof.holds, claims: proof.claims },
          damaged: proof.damaged.length,
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

/** The file on disk that a change is in. */
const fileOf = (
  archive: Archive,
  was: number | undefined,
  planned: Archive,
  now: number | undefined,
): number => (now === undefined ? ownFileOf(archive, was!) : ownFileOf(planned, now));

/** The file on disk that an entry is in, through files that lie inside others. */
function ownFileOf(archive: Archive, index: number): number {
  let file = archive.files[archive.entries[index]!.file]!;
  while (file.holders) file = archive.files[file.holders[0]?.node.space.file ?? 0]!;
  return file.index;
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
