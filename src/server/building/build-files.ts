import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import type { Proof } from '@/core/mod';
import { storageFolder } from '../storage/storage';

/** What one archive of a build is made of, for the bar on the Build screen. */
export interface BarPart {
  readonly sort: string;
  readonly length: number;
}

export interface ArchiveReport {
  readonly archive: string;
  /** Hash of the file that it was made from, null where there was none, and of the new one. */
  readonly sourceSha256: string | null;
  readonly sha256: string;
  readonly sizeBefore: number;
  readonly sizeAfter: number;
  readonly bar: readonly BarPart[];
  /** Stored sizes; null where an entry was not there, or is no longer. */
  readonly changes: readonly { path: string; storedBefore: number | null; storedAfter: number | null }[];
  readonly proof: Proof;
  /** How many entries that stay were damaged before anything was changed. */
  readonly damaged?: number;
}

export interface BuildReport {
  readonly archives: readonly ArchiveReport[];
}

/** What a file system takes of a name, with room for what stands before it. */
const MOST_NAME_BYTES = 160;

/** Where the new file of an archive lies: in one folder for all of a build, under a name that no other path has. */
export function buildFile(buildId: number, archive: string): string {
  const older = olderFile(buildId, archive);
  if (fs.statSync(older, { throwIfNoEntry: false })?.isFile()) return older;
  const hash = createHash('sha256').update(archive).digest('hex');
  const name = path.posix.basename(archive);
  const shown = Buffer.byteLength(name) > MOST_NAME_BYTES ? '' : `-${name}`;
  return path.join(storageFolder('builds', String(buildId), 'files'), `${hash.slice(0, 24)}${shown}`);
}

/** Where earlier versions kept it: under a name that two paths could have. */
function olderFile(buildId: number, archive: string): string {
  const flat = archive.replaceAll('/', '__');
  const isLong = Buffer.byteLength(flat) > 240;
  const name = isLong ? createHash('sha256').update(archive).digest('hex') : flat;
  return path.join(storageFolder('builds', String(buildId)), name);
}
