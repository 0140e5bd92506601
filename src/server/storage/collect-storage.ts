import fs from 'node:fs';
import path from 'node:path';
import { ChangeRow, InstallationRow, models, StepRow } from '@/db';
import { readJournals } from '../installing/placing';
import { places, type InstalledFile } from '../installing/installations';
import { storageFolder } from './storage';

/** What came in just now may not be referred to yet. */
const YOUNG_MS = 60 * 60_000;

export interface Collected {
  readonly blobs: number;
  readonly originals: number;
  readonly bytes: number;
}

/**
 * Removes bytes that nothing refers to any more: those given to mods and steps that are gone, and kept copies of installations whose
 * game was taken off the shelf. What any record still tells of stays, restored or not.
 */
export async function collectStorage(youngMs = YOUNG_MS): Promise<Collected> {
  models();
  const blobs = dropUnlisted(blobFiles(), await blobsReferredTo(), youngMs);
  // Uploads that were cut short.
  dropUnlisted(filesIn(storageFolder('incoming')), new Set(), Math.max(youngMs, YOUNG_MS));
  const originals = dropUnlisted(filesIn(places().originals), await originalsReferredTo(), youngMs);
  return { blobs: blobs.count, originals: originals.count, bytes: blobs.bytes + originals.bytes };
}

const filesIn = (folder: string): string[] => fs.readdirSync(folder).map((name) => path.join(folder, name));

const blobFiles = (): string[] =>
  fs
    .readdirSync(storageFolder('blobs'))
    .flatMap((folder) => filesIn(path.join(storageFolder('blobs'), folder)));

interface WithBlobs {
  readonly givenBlob?: string | null;
  readonly preparedBlob?: string | null;
}

async function blobsReferredTo(): Promise<Set<string>> {
  const known = new Set<string>();
  const add = (row: WithBlobs | null): void => {
    for (const blob of [row?.givenBlob, row?.preparedBlob]) if (blob) known.add(blob);
  };
  for (const row of await ChangeRow.findAll({ attributes: ['givenBlob', 'preparedBlob'] })) add(row);
  // Steps hold changes as they were, so that these can come back.
  for (const { states } of await StepRow.findAll({ attributes: ['states'] }))
    for (const { before, after } of states as { before: WithBlobs | null; after: WithBlobs | null }[]) {
      add(before);
      add(after);
    }
  return known;
}

async function originalsReferredTo(): Promise<Set<string>> {
  const known = new Set<string>();
  const add = (...hashes: (string | null | undefined)[]): void => {
    for (const hash of hashes) if (hash) known.add(hash);
  };
  for (const { files } of await InstallationRow.findAll({ attributes: ['files'] }))
    for (const { before, found } of files as InstalledFile[]) add(before, found);
  for (const { journal } of readJournals(places().journals))
    for (const { before, after } of journal.files) add(before, after);
  return known;
}

/** Files are called by the hash of their bytes. */
function dropUnlisted(
  files: readonly string[],
  known: ReadonlySet<string>,
  youngMs: number,
): { count: number; bytes: number } {
  let count = 0;
  let bytes = 0;
  for (const file of files) {
    // A temporary name begins with the hash as well, and is as young as its writer.
    const [sha256] = path.basename(file).split('.');
    if (known.has(sha256!)) continue;
    const stat = fs.statSync(file, { throwIfNoEntry: false });
    if (!stat?.isFile() || Date.now() - Math.max(stat.mtimeMs, stat.ctimeMs) < youngMs) continue;
    fs.rmSync(file, { force: true });
    count++;
    bytes += stat.size;
  }
  return { count, bytes };
}
