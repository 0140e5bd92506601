import { randomUUID } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { factOf, setFact } from '@/db/facts';
import { storageRoot } from './storage';

const FILE = 'storage-id';
const FACT = 'storage';

const known = (): Promise<string | undefined> => factOf(FACT);

/** Marks the storage as the one that belongs to the database; done as the application starts. */
export async function markStorage(): Promise<void> {
  const file = path.join(storageRoot(), FILE);
  if (!fs.existsSync(file)) fs.writeFileSync(file, randomUUID());
  await setFact(FACT, fs.readFileSync(file, 'utf8'));
}

/** What is wrong with the storage that this process sees, in words; undefined where it is the database's own. */
export async function sameStorage(): Promise<string | undefined> {
  const file = path.join(storageRoot(), FILE);
  const wanted = await known();
  if (wanted === undefined)
    return 'The application has not been started with this database yet. Start it first.';
  if (fs.existsSync(file) && fs.readFileSync(file, 'utf8') === wanted) return undefined;
  return `${storageRoot()} is not the storage of the application that uses this database. Mount that one here, or give its place as ZERO_LATCH_STORAGE.`;
}
