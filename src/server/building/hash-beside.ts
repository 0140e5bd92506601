import type { Worker } from 'node:worker_threads';
import { hashFile, hashPieces } from './hash-file';

/** Part of what a file will be: a stretch of another file, or bytes. */
export type HashPiece = { readonly from: number; readonly length: number } | Uint8Array;

export type ToHashThread = { readonly id: number; readonly file: string } & {
  /** Where not all of the file is meant: what is hashed, one behind the other. */
  readonly pieces?: readonly HashPiece[];
};

export type FromHashThread = { readonly id: number } & (
  { readonly sha256: string | undefined } | { readonly failure: string }
);

interface Running {
  readonly worker: Worker;
  readonly waiting: Map<number, (answer: FromHashThread | Error) => void>;
}

/** Two, since a build has a file before and one after. */
const MOST_THREADS = 2;
const threads: Running[] = [];
let count = 0;

/**
 * SHA-256 of a file, worked out by a thread beside this one, since hashing takes as long as copying does. Undefined where there is no
 * such file. The promise may be left alone: it never ends the process.
 */
export function hashBeside(file: string, pieces?: readonly HashPiece[]): Promise<string | undefined> {
  const folder = process.env.ZERO_LATCH_THREADS;
  if (folder === undefined) return Promise.resolve(pieces ? hashPieces(file, pieces) : hashFile(file));
  const { worker, waiting } = freest(folder);
  const id = ++count;
  const hashed = new Promise<string | undefined>((resolve, reject) => {
    waiting.set(id, (answer) => {
      if (answer instanceof Error) reject(answer);
      else if ('failure' in answer) reject(new Error(answer.failure));
      else resolve(answer.sha256);
    });
    worker.postMessage({ id, file, ...(pieces && { pieces }) } satisfies ToHashThread);
  });
  hashed.catch(() => undefined);
  return hashed;
}

function freest(folder: string): Running {
  const idle = threads.find(({ waiting }) => waiting.size === 0);
  if (idle) return idle;
  if (threads.length < MOST_THREADS) return start(folder);
  return threads.reduce((a, b) => (b.waiting.size < a.waiting.size ? b : a));
}

function start(folder: string): Running {
  // Asked for by name, since the bundler of the pages would want to bundle what the thread runs.
  const { Worker: Thread } = process.getBuiltinModule('node:worker_threads');
  const worker = new Thread(`${folder}/hash-thread.mjs`);
  const waiting: Running['waiting'] = new Map();
  const ended = (error: Error): void => {
    const at = threads.findIndex((thread) => thread.worker === worker);
    if (at >= 0) threads.splice(at, 1);
    for (const tell of waiting.values()) tell(error);
    waiting.clear();
  };
  worker.on('message', (answer: FromHashThread) => {
    waiting.get(answer.id)?.(answer);
    waiting.delete(answer.id);
  });
  worker.on('error', ended);
  worker.on('exit', () => ended(new Error('the thread that hashes ended')));
  worker.unref();
  const thread = { worker, waiting };
  threads.push(thread);
  return thread;
}
