import fs from 'node:fs';
import { LRUCache } from 'lru-cache';
import { hashBeside } from './hash-beside';

/** What a file was when it was hashed; the system changes the last of these whenever anything else is. */
const stateOf = (file: string): string | undefined => {
  const stat = fs.statSync(file, { throwIfNoEntry: false, bigint: true });
  return stat && `${stat.dev} ${stat.ino} ${stat.size} ${stat.mtimeNs} ${stat.ctimeNs}`;
};

const MOST_KEPT = 4000;
/** One that is written in the same tick of the clock may look the same; what is this young is hashed again. */
const YOUNG_MS = 2000;
const kept = new LRUCache<string, { readonly state: string; readonly sha256: string }>({ max: MOST_KEPT });

/**
 * SHA-256 of a file, worked out beside this thread, and not again as long as nobody has written or replaced the file. Undefined where there
 * is no such file. For looking and for what is checked again before anything is overwritten; what is to be trusted is hashed anew.
 */
export async function knownHash(file: string): Promise<string | undefined> {
  const before = stateOf(file);
  if (before === undefined) return undefined;
  const known = kept.get(file);
  if (known?.state === before) return known.sha256;
  const sha256 = await hashBeside(file);
  if (sha256 !== undefined && stateOf(file) === before && isOld(file))
    kept.set(file, { state: before, sha256 });
  return sha256;
}

const isOld = (file: string): boolean =>
  Date.now() - (fs.statSync(file, { throwIfNoEntry: false })?.ctimeMs ?? Infinity) > YOUNG_MS;
