import pg from 'pg';
import { databaseUrl } from '@/db';
import type { JobContext } from '../running/job-context';

/** Ours among the locks of the database; any number. */
const SPACE = 0x5a4c;
const AGAIN_MS = 200;

async function connect(): Promise<pg.Client> {
  const client = new pg.Client({ connectionString: databaseUrl(), application_name: 'zero-latch lock' });
  // A lock that is lost with its connection is noticed by the journal of the folder, which is there still.
  client.on('error', () => undefined);
  await client.connect();
  return client;
}

const taken = async (client: pg.Client, gameId: number): Promise<boolean> =>
  (await client.query<{ held: boolean }>('SELECT pg_try_advisory_lock($1, $2) AS held', [SPACE, gameId]))
    .rows[0]!.held;

/**
 * Does what changes a game, or follows from what is in its folder, while nobody else does, whichever worker it is: builds, installing,
 * restoring, taking out and mending. Waits for its turn; the end of the connection gives the lock back, so that a kill leaves none.
 */
export async function holdGame<T>(gameId: number, job: JobContext, work: () => Promise<T>): Promise<T> {
  const client = await connect();
  try {
    while (!(await taken(client, gameId))) {
      job.check();
      job.progress(0, 1, 'items', 'waiting for what else is done to this game');
      await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
    }
    return await work();
  } finally {
    await client.end().catch(() => undefined);
  }
}

/** The same, unless somebody holds the game now; undefined then. */
export async function tryHoldGame<T>(gameId: number, work: () => Promise<T>): Promise<T | undefined> {
  const client = await connect();
  try {
    return (await taken(client, gameId)) ? await work() : undefined;
  } finally {
    await client.end().catch(() => undefined);
  }
}
