import { QueryTypes } from 'sequelize';
import { models } from '@/db';
import { RESUMED } from '../jobs';
import { hasEnded, type WorkerIdentity } from './identity';

/** A worker that says nothing for so long is taken for dead, and what it had is given to others. */
const SILENT_SECONDS = 20;

/** A worker as the application shows it. */
export interface WorkerView {
  readonly id: string;
  readonly title: string;
  readonly threads: number;
  readonly startedAt: string;
  readonly isSilent: boolean;
  /** Batches that it has now. */
  readonly batches: number;
  /** Folders of jobs that it does not see, in words. */
  readonly blind: readonly string[];
}

interface WorkerRow extends WorkerIdentity {
  readonly isSilent: boolean;
  readonly blind: readonly string[];
  readonly startedAt: Date;
}

async function rows(): Promise<WorkerRow[]> {
  return models().query<WorkerRow>(
    `SELECT id, title, place, pid, born, threads, blind, started_at AS "startedAt",
       seen_at < now() - interval '${SILENT_SECONDS} seconds' AS "isSilent" FROM workers ORDER BY started_at`,
    { type: QueryTypes.SELECT },
  );
}

/** Enters a worker, or renews what is known of it. */
export async function enterWorker({ id, title, place, pid, born, threads }: WorkerIdentity): Promise<void> {
  await models().query(
    `INSERT INTO workers (id, title, place, pid, born, threads) VALUES ($1, $2, $3, $4, $5, $6)
     ON CONFLICT (id) DO UPDATE SET seen_at = now()`,
    { bind: [id, title, place, pid, born, threads] },
  );
}

/** Takes a worker off, as it ends of itself. */
export async function leaveWorker(id: string): Promise<void> {
  await models().query('DELETE FROM workers WHERE id = $1', { bind: [id] });
}

/** Says which folders a worker does not see. */
export async function noteBlind(id: string, blind: readonly string[]): Promise<void> {
  await models().query('UPDATE workers SET blind = $2 WHERE id = $1', { bind: [id, JSON.stringify(blind)] });
}

export async function listWorkers(): Promise<WorkerView[]> {
  const busy = await models().query<{ id: string; batches: string }>(
    `SELECT worker_id AS id, count(*) AS batches FROM batches WHERE state = 'taken' GROUP BY worker_id`,
    { type: QueryTypes.SELECT },
  );
  const counts = new Map(busy.map(({ id, batches }) => [id, Number(batches)]));
  return (await rows()).map(({ id, title, threads, startedAt, isSilent, blind }) => ({
    ...{ id, title, threads, isSilent, blind },
    startedAt: startedAt.toISOString(),
    batches: counts.get(id) ?? 0,
  }));
}

/** Whether another living worker could take what this one does not see. */
export async function othersSee(me: WorkerIdentity, folder: string): Promise<boolean> {
  return (await rows()).some(
    ({ id, isSilent, blind }) =>
      id !== me.id && !isSilent && !blind.some((note) => note.includes(`${folder} `)),
  );
}

/** A job under which so many workers ended is not begun again by itself. */
const MOST_ATTEMPTS = 3;

export interface Reaped {
  /** Jobs that go on, to be sent again. */
  readonly resumed: readonly string[];
  readonly failed: readonly string[];
}

/**
 * Takes off the workers that have ended without a word. Their batches are open again; the jobs that they led go on elsewhere where
 * they can, and are said to be over where they cannot.
 */
export async function reapWorkers(me: WorkerIdentity): Promise<Reaped> {
  const gone = (await rows()).filter(
    (worker) => worker.id !== me.id && (worker.isSilent || hasEnded(worker, me)),
  );
  return models().transaction(async (transaction) => {
    for (const { id } of gone)
      await models().query('DELETE FROM workers WHERE id = $1', { bind: [id], transaction });
    await models().query(
      `UPDATE batches SET state = 'open', worker_id = NULL, attempts = attempts + 1
       WHERE state = 'taken' AND NOT EXISTS (SELECT 1 FROM workers w WHERE w.id = batches.worker_id)`,
      { transaction },
    );
    // Of several who look at the same time one gets each job.
    const ended = async (set: string, where: string): Promise<string[]> => {
      const ids = await models().query<{ id: string }>(
        `UPDATE jobs SET ${set} WHERE state = 'running' AND ${where}
           AND (cardinality($1::text[]) > 0) AND NOT EXISTS (SELECT 1 FROM workers w WHERE w.id = jobs.worker_id) RETURNING id`,
        { bind: [[...RESUMED]], transaction, type: QueryTypes.SELECT },
      );
      return ids.map(({ id }) => id);
    };
    // One that was told to stop is not taken up again, and one under which workers end one after the other neither.
    const stopped = await ended(
      `state = CASE WHEN pause_asked THEN 'paused' ELSE 'cancelled' END, ended_at = CASE WHEN pause_asked THEN NULL ELSE now() END,
       error = 'The worker ended as this was told to stop.'`,
      'cancel_asked',
    );
    const given = await ended(
      `state = 'failed', ended_at = now(), attempts = attempts + 1,
       error = 'Workers ended under this ${MOST_ATTEMPTS} times, so it is not begun again by itself. What it had written is kept; look at the log, then start it again.'`,
      `kind = ANY($1::text[]) AND attempts + 1 >= ${MOST_ATTEMPTS}`,
    );
    return {
      resumed: await ended(
        `state = 'waiting', worker_id = NULL, attempts = attempts + 1`,
        'kind = ANY($1::text[])',
      ),
      failed: [
        ...stopped,
        ...given,
        ...(await ended(
          `state = 'failed', ended_at = now(), attempts = attempts + 1,
           error = 'The worker ended while this was running. Start it again.'`,
          'kind <> ALL($1::text[])',
        )),
      ],
    };
  });
}
