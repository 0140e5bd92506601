import fs from 'node:fs';
import path from 'node:path';
import { portablePath, type Archive, type Entry } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import { writeFully } from './file-sink';
import { isInside } from './inside';

export interface ExtractOptions {
  /** The bytes as they lie in the archive instead of the plain ones. */
  readonly stored?: boolean;
  /** Called after each entry; throwing stops the run. */
  readonly onEntry?: (result: ExtractedEntry) => void;
}

/** One entry written, or why it was not. */
export interface ExtractedEntry {
  readonly entry: Entry;
  /** Path of the file below the target folder; undefined where it failed. */
  readonly file: string | undefined;
  readonly bytes: number;
  readonly error: FormatError | undefined;
}

/**
 * Gives every entry a file name of its own below one folder: legal on every common system and never one
 * that another entry of the run has, in whatever case. One instance serves all archives of a run.
 */
export class TargetNames {
  private readonly taken = new Set<string>();

  take(wanted: string): string {
    const name = portablePath(wanted);
    let unique = name;
    for (let number = 2; this.taken.has(unique.toLowerCase()); number++) unique = numbered(name, number);
    this.taken.add(unique.toLowerCase());
    return unique;
  }
}

function numbered(name: string, number: number): string {
  const dot = name.lastIndexOf('.');
  const stemEnd = dot > name.lastIndexOf('/') + 1 ? dot : name.length;
  return `${name.slice(0, stemEnd)}~${number}${name.slice(stemEnd)}`;
}

/**
 * Writes entries below `folder`, which is made when it is missing. Every file is written under a
 * temporary name and renamed, so that no half file bears a final name. One broken entry does not stop the
 * others; a system error such as a full disk does.
 */
export function extractEntries(
  archive: Archive,
  entries: Iterable<Entry>,
  folder: string,
  names: TargetNames,
  options: ExtractOptions = {},
): { written: number; failed: number } {
  fs.mkdirSync(folder, { recursive: true });
  const root = fs.realpathSync(folder);
  const temporary = path.join(root, `.zero-latch-${process.pid}.part`);
  const safeFolders = new Set<string>();
  let written = 0;
  let failed = 0;
  for (const entry of entries) {
    const result = extractOne(archive, entry, root, temporary, names, safeFolders, options.stored ?? false);
    if (result.error) failed++;
    else written++;
    options.onEntry?.(result);
  }
  return { written, failed };
}

function extractOne(
  archive: Archive,
  entry: Entry,
  root: string,
  temporary: string,
  names: TargetNames,
  safeFolders: Set<string>,
  stored: boolean,
): ExtractedEntry {
  const file = names.take(entry.path);
  const target = path.join(root, file);
  try {
    makeFolder(root, path.dirname(target), safeFolders);
    const bytes = writeEntry(archive, entry, temporary, stored);
    fs.renameSync(temporary, target);
    return { entry, file, bytes, error: undefined };
  } catch (error) {
    fs.rmSync(temporary, { force: true });
    if (error instanceof FormatError) return { entry, file: undefined, bytes: 0, error };
    throw error;
  }
}

/** Makes a folder once and makes sure that no link leads it out of the root. */
function makeFolder(root: string, folder: string, safe: Set<string>): void {
  if (safe.has(folder)) return;
  fs.mkdirSync(folder, { recursive: true });
  const real = fs.realpathSync(folder);
  if (!isInside(root, real))
    throw new FormatError('unsafe-path', {
      actual: folder,
      why: 'a link in the target leads out of it',
      remedy: 'Choose another folder',
    });
  safe.add(folder);
}

function writeEntry(archive: Archive, entry: Entry, temporary: string, stored: boolean): number {
  const ref = stored ? archive.stored(entry) : archive.plain(entry);
  const fd = fs.openSync(temporary, 'w');
  try {
    for (const chunk of ref.chunks()) writeFully(fd, chunk);
  } finally {
    fs.closeSync(fd);
  }
  return ref.length;
}
