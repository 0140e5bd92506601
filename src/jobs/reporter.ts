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
  /** A number that changes as long as the main thread gets on. */
  pulse: SharedArrayBuffer;
}

export type ReporterMessage =
  /** `cancel` is one number: 1 once the job has been asked to stop, or is led by another worker; 2 while it is asked to rest. */
  | { sort: 'begin'; id: string; cancel: SharedArrayBuffer }
  | { sort: 'progress'; id: string; progress: object }
  | { sort: 'end'; id: string };

const EVERY_MS = 200;
const BEAT_MS = 2000;
const { url, channel, workerId, pulse } = workerData as Start;
const beat = new Int32Array(pulse);
const pool = new pg.Pool({ connectionString: url, max: 1 });
pool.on('error', () => undefined);

interface Job {
  readonly flag: Int32Array;
  latest: object | undefined;
  /** When it was told to stop. */
  toldAt: number | undefined;
}
const jobs = new Map<string, Job>();

parentPort!.on('message', (message: ReporterMessage) => {
  if (message.sort === 'begin')
    jobs.set(message.id, { flag: new Int32Array(message.cancel), latest: undefined, toldAt: undefined });
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
  const { rows } = await pool.query<{ cancel_asked: boolean; pause_asked: boolean }>(
    progress
      ? `UPDATE jobs SET progress = $3 WHERE ${mine} RETURNING cancel_asked, pause_asked`
      : `SELECT cancel_asked, pause_asked FROM jobs WHERE ${mine}`,
    progress ? [id, workerId, JSON.stringify(progress)] : [id, workerId],
  );
  if (progress) await pool.query('SELECT pg_notify($1, $2)', [channel, id]);
  // One that is not there was taken from a worker that was silent for too long.
  if (jobs.get(id) !== job) return;
  if (!(rows[0]?.cancel_asked ?? true)) {
    if (rows[0]!.pause_asked) Atomics.compareExchange(job.flag, 0, 0, 2);
    return;
  }
  if (Atomics.exchange(job.flag, 0, 1) !== 1) job.toldAt = Date.now();
}

/** A main thread that stands still for so long does not come back: bytes keep it busy, or a system call. */
const STANDS_STILL_MS = 10 * 60_000;
/** One that was told to stop is given this long. */
const OBEYS_MS = 20_000;
let seenBeat = -1;
let movedAt = Date.now();

/** Ends the process when its main thread no longer gets on; what it led is taken up by the next one, or said to be over. */
async function watchMain(): Promise<void> {
  const now = Date.now();
  const shown = Atomics.load(beat, 0);
  if (shown !== seenBeat) {
    seenBeat = shown;
    movedAt = now;
    return;
  }
  const still = now - movedAt;
  const disobeyed = [...jobs].filter(
    ([, { toldAt }]) => toldAt !== undefined && now - toldAt > OBEYS_MS && still > OBEYS_MS,
  );
  if (still < STANDS_STILL_MS && disobeyed.length === 0) return;
  process.stderr.write(`The worker stands still for ${Math.round(still / 1000)} s and is ended.\n`);
  try {
    const ends = `state = 'running' AND worker_id = $2 AND id = ANY($1::uuid[])`;
    await pool.query(
      `UPDATE jobs SET state = 'cancelled', ended_at = now(), error = 'Stopped on request; its worker had to be ended for that.' WHERE ${ends}`,
      [disobeyed.map(([id]) => id), workerId],
    );
    if (still >= STANDS_STILL_MS)
      await pool.query(
        `UPDATE jobs SET state = 'failed', ended_at = now(), error = 'Nothing moved for ten minutes, so its worker was ended. What it was at may be damaged, or made to do harm.' WHERE ${ends}`,
        [[...jobs.keys()], workerId],
      );
  } finally {
    process.kill(process.pid, 'SIGKILL');
  }
}

let beatAt = 0;
let isBusy = false;

async function round(): Promise<void> {
  if (Date.now() - beatAt > BEAT_MS) {
    beatAt = Date.now();
    await pool.query('UPDATE workers SET seen_at = now() WHERE id = $1', [workerId]);
  }
  for (const [id, job] of jobs) await tell(id, job);
  await watchMain();
}

setInterval(() => {
  if (isBusy) return;
  isBusy = true;
  // A database that is away for a moment only delays what is shown.
  void round()
    .catch(() => undefined)
    .finally(() => (isBusy = false));
}, EVERY_MS);
