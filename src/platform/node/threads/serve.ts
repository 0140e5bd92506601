import { parentPort, workerData } from 'node:worker_threads';
import { sentError, type FromThread, type Requests, type ThreadData, type ToThread } from './messages';

/** What a thread does with each sort of request. */
export type Answers<R extends Requests> = {
  readonly [K in keyof R]: (asked: R[K]['asks']) => R[K]['gives'] | Promise<R[K]['gives']>;
};

/**
 * Answers the requests of a `ThreadPool` inside one of its threads, as many at once as the pool says. `moved` names the memory of an answer that is
 * handed over rather than copied.
 */
export function serveRequests<R extends Requests>(
  answers: Answers<R>,
  moved: (gives: R[keyof R]['gives']) => readonly ArrayBuffer[] = () => [],
): void {
  const { atOnce } = workerData as ThreadData;
  const waiting: ToThread[] = [];
  let busy = 0;
  async function answer({ id, sort, asked }: ToThread): Promise<void> {
    try {
      const gives = await answers[sort]!(asked);
      parentPort!.postMessage({ id, gives } satisfies FromThread, moved(gives));
    } catch (error) {
      parentPort!.postMessage({ id, error: sentError(error) } satisfies FromThread);
    }
  }
  async function work(): Promise<void> {
    busy++;
    for (let message = waiting.shift(); message; message = waiting.shift()) await answer(message);
    busy--;
  }
  parentPort!.on('message', (message: ToThread) => {
    waiting.push(message);
    if (busy < atOnce) void work();
  });
}
