import { workerData, parentPort } from 'node:worker_threads';
import pg from 'pg';

/**
 * A thread that tells the database how far the jobs are, that their worker lives, and learns whether they should stop. The work itself
 * may be synchronous and keep the main thread busy; messages to this one get through all the same.
 */
interface Start {
  url: string;
  channel: string;
  workerId: string;
}

export type ReporterMessage =
  /** `cancel` is one number: 1 once the job has been asked to stop, or is led by another worker. */
  | { sort: 'begin'; id: string; cancel: SharedArrayBuffer }
  | { sort: 'progress'; id: string; progress: object }
  | { sort: 'end'; id: string };

const EVERY_MS = 200;
const BEAT_MS = 2000;
const { url, channel, workerId } = workerData as Start;
const pool = new pg.Pool({ connectionString: url, max: 1 });
pool.on('error', () => undefined);

interface Job {
  readonly flag: Int32Array;
  latest: object | undefined;
}
const jobs = new Map<string, Job>();

parentPort!.on('message', (message: ReporterMessage) => {
  if (message.sort === 'begin')
    jobs.set(message.id, { flag: new Int32Array(message.cancel), latest: undefined });
  else if (message.sort === 'end') jobs.delete(message.id);
  else {
    const job = jobs.get(message.id);
    if (job) job.latest = message.progress;
  }
});

async function tell(id: string, job: Job): Promise<void> {
  const progress = job.latest;
  job.latest = undefined;
  const mine = `id = $1 AND worker_id = $2 AND state = 'running'`;
  const { rows } = await pool.query<{ cancel_asked: boolean }>(
    progress
      ? `UPDATE jobs SET progress = $3 WHERE ${mine} RETURNING cancel_asked`
      : `SELECT cancel_asked FROM jobs WHERE ${mine}`,
    progress ? [id, workerId, JSON.stringify(progress)] : [id, workerId],
  );
  if (progress) await pool.query('SELECT pg_notify($1, $2)', [channel, id]);
  // One that is not there was taken from a worker that was silent for too long.
  if ((rows[0]?.cancel_asked ?? true) && jobs.get(id) === job) Atomics.store(job.flag, 0, 1);
}

let beatAt = 0;
let isBusy = false;

async function round(): Promise<void> {
  if (Date.now() - beatAt > BEAT_MS) {
    beatAt = Date.now();
    await pool.query('UPDATE workers SET seen_at = now() WHERE id = $1', [workerId]);
  }
  for (const [id, job] of jobs) await tell(id, job);
}

setInterval(() => {
  if (isBusy) return;
  isBusy = true;
  // A database that is away for a moment only delays what is shown.
  void round()
    .catch(() => undefined)
    .finally(() => (isBusy = false));
}, EVERY_MS);
