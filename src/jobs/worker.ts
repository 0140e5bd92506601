import { availableParallelism } from 'node:os';
import PgBoss from 'pg-boss';
import { database, databaseUrl, JobRow, models } from '@/db';
import { isDatabaseAway } from '@/db/away';
import { dropCutBuilds } from '@/server/building/builds';
import { collectStorage } from '@/server/storage/collect-storage';
import {
  announce,
  enqueue,
  JOB_CHANNEL,
  jobEvents,
  queueOf,
  QUEUES,
  sendJob,
  type Queue,
} from '@/server/running/jobs';
import { log } from '@/server/log';
import { settleAll } from '@/server/installing/settle';
import { sweepTemporary } from '@/platform/node/temporary';
import { sameStorage } from '@/server/storage/storage-mark';
import { newIdentity } from '@/server/running/workers/identity';
import { enterWorker, leaveWorker, reapWorkers } from '@/server/running/workers/registry';
import { BatchTaker } from './batch-taker';
import { BlindSpots } from './blind-spots';
import { JobRunner } from './job-runner';
import { startThread } from './thread';

/** Extractions mostly wait for the threads that do them, so that several get on side by side. */
const AT_ONCE: Record<Queue, number> = { work: 1, extractions: 4 };
const REAP_MS = 3000;
const PULSE_MS = 500;
/** Whoever asks for a job wakes the queue; it looks by itself only for what that may have missed. */
const POLL_SECONDS = 2;

const threads = Number(process.env.ZERO_LATCH_WORKER_THREADS) || availableParallelism();
const me = newIdentity(threads);

models();
const problem = await sameStorage();
if (problem) {
  log.error(problem);
  process.exit(1);
}
const swept = sweepTemporary();
if (swept > 0) log.info({ swept }, 'removed what killed processes had left in the temporary folder');
await enterWorker(me);
const pulse = new SharedArrayBuffer(4);
const beat = new Int32Array(pulse);
/** This thread shows that it lives; a reporter that sees it stand still for too long ends the process. */
const pulseTimer = setInterval(() => Atomics.add(beat, 0, 1), PULSE_MS);
pulseTimer.unref();
const reporter = startThread('reporter', {
  ...{ url: databaseUrl(), channel: JOB_CHANNEL, workerId: me.id },
  pulse,
});
const blind = new BlindSpots(me);
const taker = new BatchTaker(me, blind);
const runner = new JobRunner(
  me,
  reporter,
  () => taker.look(),
  blind,
  () => Atomics.add(beat, 0, 1),
);

/** What workers left that have ended is taken up, or said to be over. */
async function reap(): Promise<void> {
  await enterWorker(me);
  const { resumed, failed } = await reapWorkers(me);
  for (const id of resumed) {
    const row = await JobRow.findByPk(id);
    if (row) await sendJob(id, row.kind);
  }
  for (const id of [...resumed, ...failed]) await announce(id);
  await takeBackStrayed();
  await scanAfter(failed);
  // Among them may be an installation that its worker left half-way, or one whose records the database was not there to take.
  await mendAll();
}

/** Jobs that change files, or what is known of them; cut short, they leave that older than what it is of. */
const LEAVES_STALE = ['install', 'restore', 'take-out', 'scan', 'find-key', 'try-names', 'learn-names'];

async function scanAfter(failed: readonly string[]): Promise<void> {
  if (failed.length === 0) return;
  const rows = await JobRow.findAll({ where: { id: [...failed], kind: LEAVES_STALE } });
  for (const gameId of new Set(rows.map((row) => row.gameId)))
    if (gameId !== null) await enqueue('scan', 'Scan after what was cut short', { gameId });
}

/** Jobs that were this worker's at the last look without it being at them. */
let strayed = new Set<string>();

/** A job that was taken as the database went away, so that this worker never learnt of it, waits again; none of it was begun. */
async function takeBackStrayed(): Promise<void> {
  const rows = await JobRow.findAll({ where: { state: 'running', workerId: me.id } });
  const now = rows.filter(({ id }) => !runner.leading.has(id));
  for (const { id, kind } of now.filter((row) => strayed.has(row.id))) {
    const [count] = await JobRow.update(
      { state: 'waiting', workerId: null },
      { where: { id, state: 'running', workerId: me.id } },
    );
    if (count > 0) await sendJob(id, kind);
  }
  strayed = new Set(now.map(({ id }) => id));
}

/** Builds and operations on folders that were cut short, once nobody is at them any more. */
async function mendAll(): Promise<void> {
  await settleAll();
  const atWork = ['build', 'install', 'restore', 'take-out'];
  if (!(await JobRow.findOne({ where: { state: 'running', kind: atWork } }))) await dropCutBuilds();
}

/** Bytes that no record tells of any more go, at each start and some times a day. */
const COLLECT_MS = 6 * 60 * 60_000;
async function collect(): Promise<void> {
  const { blobs, originals, bytes } = await collectStorage();
  if (blobs + originals > 0) log.info({ blobs, originals, bytes }, 'collected what nothing refers to');
}

await reap();
const boss = new PgBoss({ connectionString: databaseUrl(), max: 4 });
boss.on('error', (error) => log.error({ error: error.message }, 'queue'));
await boss.start();
const lanes: Record<Queue, string[]> = { work: [], extractions: [] };
for (const queue of QUEUES) {
  await boss.createQueue(queue);
  for (let lane = 0; lane < AT_ONCE[queue]; lane++)
    lanes[queue].push(
      await boss.work<{ id: string }>(queue, { pollingIntervalSeconds: POLL_SECONDS }, async (jobs) => {
        for (const { data } of jobs) await runner.work(data.id);
      }),
    );
}
// Whoever asks for something does not wait until the queue is looked at again.
const told = new Set<string>();
jobEvents().on('job', (id: string) => {
  // A job that moves may have put batches on the board for everybody.
  taker.look();
  if (told.has(id)) return;
  if (told.size > 1000) told.clear();
  told.add(id);
  void JobRow.findByPk(id, { attributes: ['state', 'kind'] })
    .then((row) => {
      if (row?.state === 'waiting') for (const lane of lanes[queueOf(row.kind)]) boss.notifyWorker(lane);
    })
    .catch(() => undefined);
});
// What was asked for while no worker ran, and was lost to the queue, is taken up again.
for (const row of await JobRow.findAll({ where: { state: 'waiting' }, order: ['number'] }))
  await sendJob(row.id, row.kind);
let reaping: Promise<void> | undefined;
const reapTimer = setInterval(() => {
  reaping ??= reap()
    .catch((error: unknown) => log.warn({ error: String(error) }, 'looking after workers'))
    .finally(() => (reaping = undefined));
}, REAP_MS);
const collectTimer = setInterval(
  () => void collect().catch((error: unknown) => log.warn({ error: String(error) }, 'collecting')),
  COLLECT_MS,
);
collectTimer.unref();
void collect().catch((error: unknown) => log.warn({ error: String(error) }, 'collecting'));
log.info({ worker: me.title, threads }, 'ready');

// What a database that went away leaves unanswered somewhere must not end the worker; anything else is a mistake of ours.
process.on('unhandledRejection', (error) => {
  if (!isDatabaseAway(error)) throw error;
  log.warn({ error: String(error) }, 'the database was away');
});

for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => {
    void (async () => {
      clearInterval(reapTimer);
      await taker.close();
      await boss.stop({ graceful: true, timeout: 5000 }).catch(() => undefined);
      await leaveWorker(me.id).catch(() => undefined);
      await database().close();
      await reporter.terminate();
      process.exit(0);
    })();
  });
