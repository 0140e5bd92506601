import { hasThreads, poolOf, type ThreadPool } from '@/platform/node/threads/pool';
import { hashFile, hashPieces } from './hash-file';

/** Part of what a file will be: a stretch of another file, or bytes. */
export type HashPiece = { readonly from: number; readonly length: number } | Uint8Array;

export type HashRequests = {
  readonly hash: {
    /** Where not all of the file is meant: what is hashed, one behind the other. */
    readonly asks: { readonly file: string; readonly pieces?: readonly HashPiece[] };
    readonly gives: string | undefined;
  };
};

/** Two, since a build has a file before and one after. */
const MOST_THREADS = 2;
const threads = (): ThreadPool<HashRequests> =>
  poolOf('hashes', () => ({ script: 'hash-thread', most: MOST_THREADS }));

/**
 * SHA-256 of a file, worked out by a thread beside this one, since hashing takes as long as copying does. Undefined where there is no
 * such file. The promise may be left alone: it never ends the process.
 */
export function hashBeside(file: string, pieces?: readonly HashPiece[]): Promise<string | undefined> {
  if (!hasThreads()) return Promise.resolve(pieces ? hashPieces(file, pieces) : hashFile(file));
  const hashed = threads().ask('hash', { file, ...(pieces && { pieces }) });
  hashed.catch(() => undefined);
  return hashed;
}
