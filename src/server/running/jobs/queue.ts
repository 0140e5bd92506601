import { randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import PgBoss from 'pg-boss';
import { databaseUrl, JobRow, models } from '@/db';
import { lockTransaction, notify } from '@/db/signals';
import { log } from '../../log';
import { notFound, UserError } from '@/platform/user-error';
import { jobEvents } from './events';
import {
  ASKED_ONCE,
  HELD,
  JOB_CHANNEL,
  JOB_INPUTS,
  queueOf,
  QUEUES,
  RESUMED,
  type JobInput,
  type JobKind,
  type JobState,
  type Progress,
} from './kinds';

declare global {
  var zeroLatchQueue: Promise<PgBoss> | undefined;
}

/** The queue of this process. Only the worker supervises; the others just send. */
export function queue(): Promise<PgBoss> {
  globalThis.zeroLatchQueue ??= (async () => {
    const boss = new PgBoss({ connectionString: databaseUrl(), max: 3, supervise: false, schedule: false });
    boss.on('error', (error) => log.error({ error: error.message }, 'queue'));
    await boss.start();
    for (const name of QUEUES) await boss.createQueue(name);
    return boss;
  })().catch((error: unknown) => {
    globalThis.zeroLatchQueue = undefined;
    throw error;
  });
  return globalThis.zeroLatchQueue;
}

/** A job as the browser sees it. */
export interface JobView {
  readonly id: string;
  /** Jobs are numbered as they are asked for. */
  readonly number: number;
  readonly gameId: number | null;
  /** `recover` is what a start did about an operation that was cut short. */
  readonly kind: JobKind | 'recover';
  readonly title: string;
  readonly state: JobState;
  readonly progress: Partial<Progress>;
  readonly result: unknown;
  readonly error: string | null;
  readonly createdAt: string;
  readonly endedAt: string | null;
}

export const viewOf = (row: JobRow): JobView => ({
  id: row.id,
  number: row.number,
  gameId: row.gameId,
  kind: row.kind as JobView['kind'],
  title: row.title,
  state: row.state as JobState,
  progress: row.progress as Partial<Progress>,
  result: row.result ?? null,
  error: row.error,
  createdAt: row.createdAt.toISOString(),
  endedAt: row.endedAt?.toISOString() ?? null,
});

/** Ours among the locks of the database; any number. */
const ASKING = 0x5a4d;

/** A press that came twice is one: whoever asks for a build again meant to, once they could have seen the first begin. */
const TWICE_MS = 2000;

/** The job that this one would be over again; see `ASKED_ONCE`. */
async function sameJob(kind: JobKind, gameId: number, input: unknown): Promise<JobRow | undefined> {
  const states: JobState[] = ['waiting', 'running'];
  const rows = await JobRow.findAll({ where: { gameId, kind, state: states }, order: ['number'] });
  return rows.find(
    (row) =>
      isDeepStrictEqual(row.input, JSON.parse(JSON.stringify(input))) &&
      (row.state === 'waiting' ||
        ASKED_ONCE.running.includes(kind) ||
        (kind !== 'scan' && Date.now() - row.createdAt.getTime() < TWICE_MS)),
  );
}

/** Asks for a job; one that would be the same over again is given instead. */
export async function enqueue<K extends JobKind>(
  kind: K,
  title: string,
  input: JobInput<K>,
): Promise<JobView> {
  models();
  const checked = JOB_INPUTS[kind].parse(input);
  const { gameId } = checked;
  const [row, isNew] = await models().transaction(async () => {
    if (ASKED_ONCE.waiting.includes(kind)) {
      // Of two who ask at the same moment the second sees what the first has asked for.
      await lockTransaction(ASKING, gameId);
      const same = await sameJob(kind, gameId, checked);
      if (same) return [same, false] as const;
    }
    const made = await JobRow.create({
      ...{ id: randomUUID(), gameId, kind, title },
      state: 'waiting',
      input: checked,
    });
    return [made, true] as const;
  });
  if (!isNew) return viewOf(row);
  await sendJob(row.id, kind);
  await announce(row.id);
  return viewOf(row);
}

/** Puts a job that waits into its queue, for a worker to take. */
export async function sendJob(id: string, kind: string, afterSeconds = 0): Promise<void> {
  const boss = await queue();
  await boss.send(queueOf(kind), { id }, { retryLimit: 0, expireInHours: 23, startAfter: afterSeconds });
}

/** Tells every process that a job has moved. */
export async function announce(id: string): Promise<void> {
  await notify(JOB_CHANNEL, id);
}

export async function findJobs(gameId: number | undefined, limit = 50): Promise<JobView[]> {
  models();
  const rows = await JobRow.findAll({
    where: gameId === undefined ? {} : { gameId },
    order: [['number', 'DESC']],
    limit,
  });
  // What was found inside entries is long; it comes with the job alone.
  return rows.map((row) => {
    const view = viewOf(row);
    if (view.result === null) return view;
    const rest = Object.entries(view.result as object).filter(([name]) => name !== 'hits');
    return { ...view, result: Object.fromEntries(rest) };
  });
}

export async function findJob(id: string): Promise<JobView> {
  models();
  const row = await JobRow.findByPk(id);
  if (!row) throw notFound('The job');
  return viewOf(row);
}

/** Asks a job to stop; one that still waits is over at once. */
export async function cancelJob(id: string): Promise<void> {
  models();
  await JobRow.update(
    { cancelAsked: true, pauseAsked: false },
    { where: { id, state: ['waiting', 'running', 'paused'] } },
  );
  await JobRow.update(
    { state: 'cancelled', endedAt: new Date() },
    { where: { id, state: ['waiting', 'paused'] } },
  );
  await announce(id);
}

/** Asks a job to stop for now; one that waits is paused at once. */
export async function pauseJob(id: string): Promise<void> {
  models();
  const row = await JobRow.findByPk(id);
  if (!row) throw notFound('The job');
  const isHeld = HELD.includes(row.kind as JobKind);
  if (!isHeld && !RESUMED.includes(row.kind as JobKind))
    throw new UserError(409, `${row.title} cannot be paused: it would begin anew. Stop it instead.`);
  await JobRow.update({ state: 'paused' }, { where: { id, state: 'waiting' } });
  // What goes on where it was is ended; what can only stand still stays with its worker.
  await JobRow.update({ cancelAsked: !isHeld, pauseAsked: true }, { where: { id, state: 'running' } });
  await announce(id);
}

/** Lets a paused job go on, behind those that wait. */
export async function resumeJob(id: string): Promise<void> {
  models();
  const [, [row]] = await JobRow.update(
    { state: 'waiting', cancelAsked: false, pauseAsked: false, endedAt: null, error: null },
    { where: { id, state: 'paused' }, returning: true },
  );
  if (!row) return;
  await sendJob(id, row.kind);
  await announce(id);
}

type Listener = (view: JobView) => void;
const listeners = new Set<Listener>();
/** Jobs that have moved since they were looked at last. */
const moved = new Set<string>();
let looks: NodeJS.Timeout | undefined;
/** What moves within so long is looked at once. */
const LOOK_MS = 50;

/**
 * Tells each job that moves to all who listen, looked up once for all of them, however many there are. Gives a function that ends it.
 */
export function onJobViews(listener: Listener): () => void {
  if (listeners.size === 0) jobEvents().on('job', noteMoved);
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
    if (listeners.size === 0) jobEvents().off('job', noteMoved);
  };
}

function noteMoved(id: string): void {
  moved.add(id);
  looks ??= setTimeout(() => void lookAtMoved(), LOOK_MS);
}

async function lookAtMoved(): Promise<void> {
  const ids = [...moved];
  moved.clear();
  try {
    models();
    const rows = await JobRow.findAll({ where: { id: ids }, order: ['number'] });
    for (const row of rows) {
      const view = viewOf(row);
      for (const listener of listeners) listener(view);
    }
  } catch (error) {
    // A database that is away is told by its own event; what moved is asked for anew when it is back.
    log.warn({ error: String(error) }, 'jobs that moved');
  } finally {
    looks = undefined;
    if (moved.size > 0) looks = setTimeout(() => void lookAtMoved(), LOOK_MS);
  }
}
