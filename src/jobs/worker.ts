import { randomUUID } from 'node:crypto';
import PgBoss from 'pg-boss';
import { FormatError } from '@/core/bytes';
import { database, databaseUrl, GameRow, JobRow, models } from '@/db';
import { recoverInstallations } from '@/server/installations';
import { Cancelled, type JobContext } from '@/server/job-context';
import { announce, JOB_CHANNEL, JOB_INPUTS, JOB_QUEUE, RESUMED, type JobKind } from '@/server/jobs';
import { log } from '@/server/log';
import { UserError } from '@/server/user-error';
import { HANDLERS } from './handlers';
import type { ReporterMessage } from './reporter';
import { startThread } from './thread';

const cancel = new SharedArrayBuffer(4);
const flag = new Int32Array(cancel);
const reporter = startThread('reporter', { url: databaseUrl(), channel: JOB_CHANNEL, cancel });
const report = (message: ReporterMessage): void => reporter.postMessage(message);

/** Messages to the reporter cost a little; more often than this nobody can see. */
const REPORT_MS = 100;

function contextFor(): JobContext {
  const since = Date.now();
  let last = 0;
  return {
    progress(done, total, unit, item) {
      const now = Date.now();
      if (now - last < REPORT_MS) return;
      last = now;
      report({ sort: 'progress', progress: { done, total, unit, item, since } });
    },
    check() {
      if (Atomics.load(flag, 0) === 1) throw new Cancelled();
    },
  };
}

async function work(id: string): Promise<void> {
  const [taken] = await JobRow.update({ state: 'running' }, { where: { id, state: 'waiting' } });
  if (taken === 0) return;
  const row = await JobRow.findByPk(id);
  if (!row) return;
  const kind = row.kind as JobKind;
  report({ sort: 'begin', id });
  await announce(id);
  const began = performance.now();
  let end: { state: string; error?: string; result?: unknown };
  try {
    const input = JOB_INPUTS[kind].parse(row.input);
    end = {
      state: 'done',
      result: await (HANDLERS[kind] as (input: unknown, job: JobContext) => Promise<unknown>)(
        input,
        contextFor(),
      ),
    };
  } catch (error) {
    end = endOf(error);
    if (end.state === 'failed' && !(error instanceof FormatError || error instanceof UserError))
      log.error({ kind, err: error }, 'job');
  }
  if (end.state === 'cancelled' && (await row.reload()).pauseAsked)
    end = { state: 'paused', error: 'Paused. It goes on where it was.' };
  report({ sort: 'end' });
  log.info({ kind, id, state: end.state, ms: Math.round(performance.now() - began) }, 'job ended');
  await row.update({
    state: end.state,
    error: end.error ?? null,
    result: (end.result ?? null) as never,
    endedAt: end.state === 'paused' ? null : new Date(),
  });
  await announce(id);
}

function endOf(error: unknown): { state: string; error: string } {
  if (error instanceof Cancelled)
    return { state: 'cancelled', error: 'Stopped on request; nothing half-made was kept.' };
  const { code } = error as NodeJS.ErrnoException;
  if (code === 'ENOSPC')
    return {
      state: 'failed',
      error: 'The disk is full. What was half-written was removed. Make room and start it again.',
    };
  if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
    return {
      state: 'failed',
      error: `${(error as Error).message}. Check who owns the folder and whether it may be written.`,
    };
  return { state: 'failed', error: error instanceof Error ? error.message : String(error) };
}

/** Jobs that were running when a worker ended are said to be over; nothing of them was half-kept. */
async function closeInterrupted(): Promise<void> {
  // Those that know what they have done go on; they are sent again below, with all that wait.
  await JobRow.update({ state: 'waiting' }, { where: { state: 'running', kind: [...RESUMED] } });
  await JobRow.update(
    {
      state: 'failed',
      error: 'The worker ended while this was running. Start it again.',
      endedAt: new Date(),
    },
    { where: { state: 'running' } },
  );
}

models();
await closeInterrupted();
for (const { title, folder, outcome, detail } of await recoverInstallations()) {
  log.warn({ title, folder, outcome, detail }, 'recovered');
  const game = await GameRow.findOne({ where: { folder } });
  const stuck = outcome === 'stuck';
  await JobRow.create({
    id: randomUUID(),
    gameId: game?.id ?? null,
    kind: 'recover',
    title: `${title}, cut short`,
    state: stuck ? 'failed' : 'done',
    input: {},
    result: { detail } as never,
    error: stuck ? `${detail} The next start tries again.` : null,
    endedAt: new Date(),
  });
}

const boss = new PgBoss({ connectionString: databaseUrl(), max: 3 });
boss.on('error', (error) => log.error({ error: error.message }, 'queue'));
await boss.start();
await boss.createQueue(JOB_QUEUE);
await boss.work<{ id: string }>(JOB_QUEUE, { pollingIntervalSeconds: 0.5 }, async (jobs) => {
  for (const { data } of jobs) await work(data.id);
});
// What was asked for while no worker ran, and was lost to the queue, is taken up again.
for (const row of await JobRow.findAll({ where: { state: 'waiting' } }))
  await boss.send(JOB_QUEUE, { id: row.id }, { retryLimit: 0 });
log.info('ready');

for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => {
    void (async () => {
      await boss.stop({ graceful: true, timeout: 5000 }).catch(() => undefined);
      await database().close();
      await reporter.terminate();
      process.exit(0);
    })();
  });
