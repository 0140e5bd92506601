import { workerData, parentPort } from 'node:worker_threads';
import pg from 'pg';

/**
 * A thread that tells the database how far the job is, and learns whether it should stop. The work itself
 * is synchronous and keeps the main thread busy; messages to this one get through all the same.
 */
interface Start {
  url: string;
  channel: string;
  /** One number: 1 once the job has been asked to stop. */
  cancel: SharedArrayBuffer;
}

export type ReporterMessage =
  { sort: 'begin'; id: string } | { sort: 'progress'; progress: object } | { sort: 'end' };

const EVERY_MS = 200;
const { url, channel, cancel } = workerData as Start;
const flag = new Int32Array(cancel);
const pool = new pg.Pool({ connectionString: url, max: 1 });
pool.on('error', () => undefined);

let job: string | undefined;
let latest: object | undefined;

parentPort!.on('message', (message: ReporterMessage) => {
  if (message.sort === 'begin') {
    job = message.id;
    latest = undefined;
    Atomics.store(flag, 0, 0);
  } else if (message.sort === 'progress') latest = message.progress;
  else job = undefined;
});

async function tell(): Promise<void> {
  if (!job) return;
  const id = job;
  const progress = latest;
  latest = undefined;
  const { rows } = await pool.query<{ cancel_asked: boolean }>(
    progress
      ? 'UPDATE jobs SET progress = $2 WHERE id = $1 AND ended_at IS NULL RETURNING cancel_asked'
      : 'SELECT cancel_asked FROM jobs WHERE id = $1',
    progress ? [id, JSON.stringify(progress)] : [id],
  );
  if (progress) await pool.query('SELECT pg_notify($1, $2)', [channel, id]);
  if (rows[0]?.cancel_asked && id === job) Atomics.store(flag, 0, 1);
}

setInterval(() => {
  // A database that is away for a moment only delays what is shown.
  tell().catch(() => undefined);
}, EVERY_MS);
