import { LockConnection } from '@/db/signals';
import type { JobContext } from '../running/job-context';

/** Ours among the locks of the database; any number. */
const SPACE = 0x5a4c;
const AGAIN_MS = 200;

/**
 * Does what changes a game, or follows from what is in its folder, while nobody else does, whichever worker it is: builds, installing,
 * restoring, taking out and mending. Waits for its turn; the end of the connection gives the lock back, so that a kill leaves none.
 */
export async function holdGame<T>(gameId: number, job: JobContext, work: () => Promise<T>): Promise<T> {
  const lock = await LockConnection.open();
  try {
    while (!(await lock.take(SPACE, gameId))) {
      job.check();
      job.progress(0, 1, 'items', 'waiting for what else is done to this game');
      await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
    }
    return await work();
  } finally {
    await lock.end();
  }
}

/** The same, unless somebody holds the game now; undefined then. */
export async function tryHoldGame<T>(gameId: number, work: () => Promise<T>): Promise<T | undefined> {
  const lock = await LockConnection.open();
  try {
    return (await lock.take(SPACE, gameId)) ? await work() : undefined;
  } finally {
    await lock.end();
  }
}
