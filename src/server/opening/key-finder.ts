import { randomUUID } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { toHex } from '@/core/bytes';
import type { FoundKey, KeySearchOptions } from '@/core/keys';
import { ArchiveRow, KeyRow, models } from '@/db';
import { resolveInside } from '@/platform/node/inside';
import { streamOf } from '../recipes/extraction';
import { presentGame, type GameView } from '../games/games';
import type { JobContext } from '../running/job-context';
import { searchKeys, type KeySearchRequest, type KeySearchResult } from './key-search';
import { archiveRow, openedEntry } from './opened';
import { filesBelow } from '../scan/folder-files';
import { LAUNCHER_PART, LEAST_PROGRAM, looksLikeLauncher, programSort } from '../scan/programs';
import { scriptById } from './scripts';
import { storageFolder } from '../storage/storage';
import { UserError } from '@/platform/user-error';

/** A file of the game folder that may hold a key. */
export interface ProgramView {
  readonly path: string;
  readonly size: number;
  /** What its first bytes say that it is. */
  readonly sort: string;
  /** Why it is likely not the one, where that can be told. */
  readonly doubt: string;
}

/** Programs of a game folder, those that are likely to hold the key first. */
export async function listPrograms(gameId: number): Promise<ProgramView[]> {
  const game = await presentGame(gameId);
  models();
  const archives = new Set((await ArchiveRow.findAll({ where: { gameId } })).map((row) => row.path));
  const programs: { path: string; size: number; sort: string }[] = [];
  for (const relative of filesBelow(game.folder)) {
    if (archives.has(relative)) continue;
    const file = path.join(game.folder, relative);
    // What has gone or may not be read cannot be searched either.
    const size = fs.statSync(file, { throwIfNoEntry: false })?.size ?? 0;
    const sort = size < LEAST_PROGRAM ? undefined : programSort(file);
    if (sort) programs.push({ path: relative, size, sort });
  }
  programs.sort((a, b) => b.size - a.size || a.path.localeCompare(b.path));
  const largest = programs[0]?.size ?? 0;
  const view = (one: (typeof programs)[number]): ProgramView => ({
    ...one,
    doubt:
      looksLikeLauncher(one.path) || one.size < LAUNCHER_PART * largest
        ? 'small or named like a launcher; such a program seldom holds the key'
        : '',
  });
  const all = programs.map(view);
  return [...all.filter(({ doubt }) => !doubt), ...all.filter(({ doubt }) => doubt)];
}

/** Looks through a part of the program in another thread. */
export interface KeySearchThread {
  readonly result: Promise<KeySearchResult>;
  /** Set to 1 once it has found one. */
  readonly hasFound: Int32Array;
  stop(): Promise<void>;
}

export type StartKeySearch = (
  request: KeySearchRequest,
  options: { from: number; to: number; all: boolean },
) => KeySearchThread;

export interface KeyFinderResult {
  readonly detail: string;
  readonly tested: number;
  readonly bytes: number;
  readonly found: readonly { offset: number; spelling: string; label: string; isNew: boolean }[];
}

/** Below this a second thread starts too late to be of use. */
const LEAST_SHARED = 4 << 20;

class Elsewhere extends Error {}

/** Searches a program for the key of a locked archive, and puts what is proved into the keyring with where it was. */
export async function findKeysFor(
  input: { gameId: number; archiveId: number; program: string; all: boolean },
  job: JobContext,
  start: StartKeySearch,
): Promise<KeyFinderResult> {
  const game = await presentGame(input.gameId);
  const row = await archiveRow(input.gameId, input.archiveId);
  const script = row.script === null ? undefined : scriptById(row.script);
  if (!script) throw new UserError(409, `${row.path} has no format script. Scan the folder again.`);
  if (row.sort === 'loose') throw new UserError(409, 'Loose files need no key.');
  const file = resolveInside(game.folder, input.program);
  const size = fs.statSync(file, { throwIfNoEntry: false })?.size;
  if (size === undefined)
    throw new UserError(
      410,
      `${input.program} is no longer in the game folder. Put it back, or choose another program.`,
    );
  const archive = await archiveFile(game, row);
  let result: KeySearchResult;
  try {
    const request: KeySearchRequest = {
      script: script.text,
      archive: { file: archive.file, name: row.path },
      program: { file, name: input.program },
    };
    result = await searchShared(request, size, input.all, job, start);
  } finally {
    archive.discard();
  }
  const { found, tested, where } = result;
  const labels = await keep(input.gameId, input.program, found);
  return {
    tested,
    bytes: size,
    found: labels,
    detail: detailOf(input.program, row.path, where, found, tested),
  };
}

/** The file of an archive; one that lies in another archive is unpacked beside the storage for as long as it is needed. */
async function archiveFile(game: GameView, row: ArchiveRow): Promise<{ file: string; discard(): void }> {
  if (row.parentId === null || row.parentEntry === null)
    return { file: resolveInside(game.folder, row.path), discard: () => undefined };
  const { archive, entry } = await openedEntry(game.id, row.parentId, row.parentEntry);
  const file = path.join(storageFolder('incoming'), randomUUID());
  const discard = (): void => fs.rmSync(file, { force: true });
  try {
    await pipeline(streamOf(archive.plain(entry)), fs.createWriteStream(file, { flags: 'wx' }));
  } catch (error) {
    discard();
    throw error;
  }
  return { file, discard };
}

async function searchShared(
  request: KeySearchRequest,
  size: number,
  all: boolean,
  job: JobContext,
  start: StartKeySearch,
): Promise<KeySearchResult> {
  const half = size >= LEAST_SHARED ? Math.ceil(size / 2) : size;
  const other = half < size ? start(request, { from: half, to: size, all }) : undefined;
  const options: KeySearchOptions = {
    to: half,
    all,
    progress(done, total) {
      job.check();
      // The other half goes at the same pace.
      job.progress(Math.round((done / total) * size), size, 'bytes', request.program.name);
      if (!all && other && Atomics.load(other.hasFound, 0) === 1) throw new Elsewhere();
    },
  };
  try {
    const own = ownPart(request, options);
    if (!other || (own && own.found.length > 0 && !all)) return own!;
    const theirs = await other.result;
    if (!own) return theirs;
    const known = new Set(own.found.map(({ key }) => toHex(key)));
    return {
      where: own.where,
      tested: own.tested + theirs.tested,
      found: [...own.found, ...theirs.found.filter(({ key }) => !known.has(toHex(key)))],
    };
  } finally {
    await other?.stop();
  }
}

/** Undefined where the other half had it first. */
function ownPart(request: KeySearchRequest, options: KeySearchOptions): KeySearchResult | undefined {
  try {
    return searchKeys(request, options);
  } catch (error) {
    if (error instanceof Elsewhere) return undefined;
    throw error;
  }
}

async function keep(
  gameId: number,
  program: string,
  found: readonly FoundKey[],
): Promise<KeyFinderResult['found']> {
  const have = await KeyRow.findAll({ where: { gameId } });
  const kept: { offset: number; spelling: string; label: string; isNew: boolean }[] = [];
  for (const { key, offset, spelling } of found) {
    const bytes = Buffer.from(key);
    const known = have.find((one) => one.bytes.equals(bytes));
    const label = known?.label ?? `key of ${path.basename(program)} (byte ${offset})`;
    if (!known)
      await KeyRow.create({
        gameId,
        label,
        bytes,
        origin: `found in ${program}, byte ${offset}, ${spelling}`,
      });
    kept.push({ offset, spelling, label, isNew: !known });
  }
  return kept;
}

function detailOf(
  program: string,
  archive: string,
  where: string,
  found: readonly FoundKey[],
  tested: number,
): string {
  const count = tested.toLocaleString('en');
  const [first] = found;
  if (!first)
    return `Not in ${program}: ${count} candidates were held against ${where} of ${archive}, and none opens it. Try another program; the largest of the game is the likeliest.`;
  const more = found.length > 1 ? `; ${found.length} different keys in all` : '';
  return `Found at byte ${first.offset} of ${program} (${first.spelling}): it opens ${archive} with ${first.entries} entries${more}. ${count} candidates were tried. It is in the keyring.`;
}
