import { parentPort } from 'node:worker_threads';
import type { FromHashThread, ToHashThread } from '@/server/building/hash-beside';
import { hashFile, hashPieces } from '@/server/building/hash-file';

/** Hashes files beside whoever writes or proves meanwhile. */
parentPort?.on('message', ({ id, file, pieces }: ToHashThread) => {
  let answer: FromHashThread;
  try {
    answer = { id, sha256: pieces ? hashPieces(file, pieces) : hashFile(file) };
  } catch (error) {
    answer = { id, failure: error instanceof Error ? error.message : String(error) };
  }
  parentPort!.postMessage(answer);
});
