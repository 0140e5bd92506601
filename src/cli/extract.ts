import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import picomatch from 'picomatch';
import { entryAsShown, type Archive, type Entry } from '@/core/archive';
import { freshFolder } from '@/platform/node/fresh-folder';
import { makeFolders } from '@/platform/node/make-folders';
import {
  extractEntries,
  TargetNames,
  type ExtractHelper,
  type NamesTaken,
} from '@/platform/node/extract-files';
import { UnpackThread } from '@/platform/node/unpack-thread';
import { forEach, type Output } from './commands';
import { isThing, type LaneOpened } from './thing-lane';
import { ThingLanes } from './thing-lanes';
import { doubtsOf } from './doubts';
import type { OpenArguments, Opened } from './open';
import { UsageError } from './usage-error';

/** What a thread needs to know to help. */
export interface HelperWork {
  readonly path: string;
  readonly given: OpenArguments;
  readonly folder: string;
  readonly stored: boolean;
  readonly keepStanding: boolean;
  readonly isFresh: boolean;
}

export interface ExtractArguments extends OpenArguments {
  readonly to: string;
  readonly match: string[];
  readonly stored?: boolean;
  readonly json?: boolean;
  readonly overwrite?: boolean;
}

/** Less than this is sooner done than a thread has started. */
const WORTH_A_THREAD_BYTES = 24 << 20;
const MOST_THREADS = 4;
const LEAST_FILES_FOR_LANES = 8;
/** To open a file and make another takes as long as so many bytes. */
const BYTES_A_FILE = 256 << 10;

export async function extract(paths: string[], given: ExtractArguments, output: Output): Promise<number> {
  const matches = given.match.length > 0 ? picomatch(given.match, { dot: true }) : () => true;
  const { stored = false, overwrite = false } = given;
  const keepStanding = !overwrite;
  // Entries of several archives may have the same paths.
  const folders = new TargetNames();
  const owns = new Map<number, string>();
  const ownOf = (number: number): string => {
    if (paths.length === 1) return '';
    if (!owns.has(number)) owns.set(number, `${folders.take(path.basename(paths[number]!))}/`);
    return owns.get(number)!;
  };
  let matched = 0;
  const tell = (index: number, shown: string, file: string, bytes: number): void =>
    output.out(given.json ? JSON.stringify({ index, path: shown, file, bytes }) : file);
  const lanes = lanesFor(paths, given, output, (number, is) => {
    if (is.sort === 'other') ownOf(number);
    if (is.sort !== 'thing' || !matches(is.path)) return undefined;
    matched++;
    return folders.take(is.path);
  });
  const ofLane = async (number: number): Promise<boolean | undefined> => {
    const done = await lanes?.of(number);
    if (!done || done.sort === 'other') return undefined;
    if (done.sort === 'unwanted') return true;
    if (done.sort === 'broken') {
      output.complain(done.message);
      return false;
    }
    const { index, bytes, error, doubts, isGood } = done.written;
    if (error === null) tell(index, done.path, done.file, bytes);
    else output.complain(error);
    for (const text of doubts) output.complain(text);
    return isGood;
  };
  const here = async ({ archive, path: file }: Opened, number: number): Promise<boolean> => {
    // A file that is a thing itself needs no folder of its own.
    const isOne = isThing(archive);
    const own = isOne ? '' : ownOf(number);
    const folder = path.join(given.to, own);
    const shown = archive.entries.map((entry) => entryAsShown(archive, entry));
    const chosen = shown.filter((entry) => matches(entry.path));
    matched += chosen.length;
    makeFolders(path.dirname(folder));
    // Things lie beside each other: each finds its own place, so that a run that is stopped keeps what it has written.
    const fresh = isOne ? undefined : freshFolder(folder);
    const root = fresh?.root ?? folder;
    const how = { stored, keepStanding, isFresh: fresh !== undefined };
    const helpers = helpersFor(archive, chosen, { path: file, given, folder: root, ...how }, output);
    const { failed } = await extractEntries(archive, chosen, root, isOne ? folders : namesOfAll(shown), {
      ...how,
      helpers,
      onEntry({ entry, file: name, bytes, error }) {
        if (error) output.complain(error.message);
        else tell(entry.index, entry.path, own + name!, bytes);
      },
    }).finally(async () => {
      await Promise.all(helpers.map((helper) => helper.close()));
      fresh?.place();
    });
    const doubts = doubtsOf(archive, file);
    for (const { text } of doubts) output.complain(text);
    return failed === 0 && doubts.every(({ isHarmless }) => isHarmless);
  };
  const code = await forEach(paths, given, output, here, ofLane).finally(() => lanes?.close());
  if (code === 0 && matched === 0 && given.match.length > 0)
    throw new UsageError(`no entry matches ${given.match.join(' or ')}`);
  return code;
}

/** The file that each entry becomes, whichever of them are extracted: by the same names they can be changed. */
export function namesOfAll(entries: readonly Entry[]): NamesTaken {
  const names = new TargetNames();
  const files = entries.map(({ path: own }) => names.take(own));
  return { take: (_path, index) => files[index]! };
}

function helpersFor(
  archive: Archive,
  entries: readonly Entry[],
  work: HelperWork,
  output: Output,
): (ExtractHelper & { close(): Promise<void> })[] {
  const bytes = entries.reduce((sum, entry) => sum + entry.size, 0);
  if (!output.helper || bytes < WORTH_A_THREAD_BYTES || entries.length < 32) return [];
  const count = Math.min(MOST_THREADS, os.availableParallelism()) - 1;
  if (!work.stored && UnpackThread.canUnpack(archive, entries)) {
    makeFolders(work.folder);
    const folder = fs.realpathSync(work.folder);
    return Array.from({ length: count }, () => new UnpackThread(archive, folder, work));
  }
  return Array.from({ length: count }, () => output.helper!(work));
}

/** Several threads for many files of which each may be a thing; undefined where starting them would take longer than the work. */
function lanesFor(
  paths: readonly string[],
  { to, stored = false, overwrite = false, ...given }: ExtractArguments,
  { lane }: Output,
  nameOf: (number: number, is: LaneOpened) => string | undefined,
): ThingLanes | undefined {
  if (!lane || paths.length < LEAST_FILES_FOR_LANES) return undefined;
  let bytes = 0;
  for (const file of paths) {
    const stat = fs.statSync(file, { throwIfNoEntry: false });
    // What is none, or lies in another one, is told of by whoever opens it.
    if (!stat?.isFile()) return undefined;
    bytes += stat.size + BYTES_A_FILE;
  }
  if (bytes < WORTH_A_THREAD_BYTES) return undefined;
  makeFolders(to);
  const folder = fs.realpathSync(to);
  return new ThingLanes(paths, nameOf, () =>
    lane({ lane: true, given, folder, stored, keepStanding: !overwrite }),
  );
}

/** The entries that were extracted as a file of this name. */
export function entriesExtractedAs(archive: Archive, name: string): Entry[] {
  const shown = archive.entries.map((entry) => entryAsShown(archive, entry));
  const names = namesOfAll(shown);
  return shown.filter(({ path: own, index }) => names.take(own, index) === name);
}
