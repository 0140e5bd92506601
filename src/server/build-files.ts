import { createHash } from 'node:crypto';
import path from 'node:path';
import type { Proof } from '@/core/mod';
import { storageFolder } from './storage';

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

/** Where the new file of an archive lies. */
export function buildFile(buildId: number, archive: string): string {
  const flat = archive.replaceAll('/', '__');
  // A file system takes names of 255 bytes.
  const isLong = Buffer.byteLength(flat) > 240;
  const name = isLong ? createHash('sha256').update(archive).digest('hex') : flat;
  return path.join(storageFolder('builds', String(buildId)), name);
}
