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
import { doubtsOf } from './doubts';
import type { OpenArguments } from './open';
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

export async function extract(paths: string[], given: ExtractArguments, output: Output): Promise<number> {
  const matches = given.match.length > 0 ? picomatch(given.match, { dot: true }) : () => true;
  const { stored = false, overwrite = false } = given;
  const keepStanding = !overwrite;
  // Entries of several archives may have the same paths.
  const folders = new TargetNames();
  let matched = 0;
  const code = await forEach(paths, given, output, async ({ archive, path: file }) => {
    // A file that is a thing itself needs no folder of its own.
    const isThing = archive.script.isForFiles && archive.entries.length === 1;
    const own = paths.length > 1 && !isThing ? `${folders.take(path.basename(file))}/` : '';
    const folder = path.join(given.to, own);
    const shown = archive.entries.map((entry) => entryAsShown(archive, entry));
    const chosen = shown.filter((entry) => matches(entry.path));
    matched += chosen.length;
    makeFolders(path.dirname(folder));
    // Things lie beside each other: each finds its own place, so that a run that is stopped keeps what it has written.
    const fresh = isThing ? undefined : freshFolder(folder);
    const root = fresh?.root ?? folder;
    const how = { stored, keepStanding, isFresh: fresh !== undefined };
    const helpers = helpersFor(archive, chosen, { path: file, given, folder: root, ...how }, output);
    const { failed } = await extractEntries(archive, chosen, root, isThing ? folders : namesOfAll(shown), {
      ...how,
      helpers,
      onEntry({ entry, file: name, bytes, error }) {
        if (error) output.complain(error.message);
        else if (given.json)
          output.out(JSON.stringify({ index: entry.index, path: entry.path, file: own + name!, bytes }));
        else output.out(own + name!);
      },
    }).finally(async () => {
      await Promise.all(helpers.map((helper) => helper.close()));
      fresh?.place();
    });
    const doubts = doubtsOf(archive, file);
    for (const { text } of doubts) output.complain(text);
    return failed === 0 && doubts.every(({ isHarmless }) => isHarmless);
  });
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

/** The entries that were extracted as a file of this name. */
export function entriesExtractedAs(archive: Archive, name: string): Entry[] {
  const shown = archive.entries.map((entry) => entryAsShown(archive, entry));
  const names = namesOfAll(shown);
  return shown.filter(({ path: own, index }) => names.take(own, index) === name);
}
