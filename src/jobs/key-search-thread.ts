import { parentPort, workerData } from 'node:worker_threads';
import { FormatError } from '@/core/bytes';
import type { KeySearchThread, StartKeySearch } from '@/server/opening/key-finder';
import { searchKeys, type KeySearchRequest, type KeySearchResult } from '@/server/opening/key-search';
import { startThread } from './thread';

interface Task {
  readonly request: KeySearchRequest;
  readonly options: { readonly from: number; readonly to: number; readonly all: boolean };
  readonly hasFound: Int32Array;
}

interface Answer {
  readonly result?: KeySearchResult;
  readonly failure?: { readonly code: FormatError['code']; readonly facts: FormatError['facts'] };
}

/** Starts a thread that looks through a part of a program. */
export const startKeySearch: StartKeySearch = (request, options): KeySearchThread => {
  const hasFound = new Int32Array(new SharedArrayBuffer(4));
  const task: Task = { request, options, hasFound };
  const worker = startThread('key-search-thread', { keySearch: task });
  const result = new Promise<KeySearchResult>((resolve, reject) => {
    worker.once('message', ({ result: done, failure }: Answer) => {
      if (done) resolve(done);
      else reject(new FormatError(failure!.code, failure!.facts));
    });
    worker.once('error', reject);
    worker.once('exit', () => reject(new Error('The thread that searched for keys ended')));
  });
  // Where the first half has the key, nobody waits for this one.
  result.catch(() => undefined);
  return { result, hasFound, stop: async () => void (await worker.terminate()) };
};

const task = (workerData as { keySearch?: Task } | null)?.keySearch;
if (task && parentPort) {
  let answer: Answer;
  try {
    const result = searchKeys(task.request, task.options);
    if (result.found.length > 0) Atomics.store(task.hasFound, 0, 1);
    answer = { result };
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    answer = { failure: { code: error.code, facts: error.facts } };
  }
  parentPort.postMessage(answer);
}
