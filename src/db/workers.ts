import { QueryTypes } from 'sequelize';
import { models } from './models';

/** What a worker says of itself, and what is known of it. */
export interface WorkerFacts {
  readonly id: string;
  readonly title: string;
  readonly place: string;
  readonly pid: number;
  readonly born: string;
  readonly threads: number;
}
export interface WorkerRow extends WorkerFacts {
  readonly isSilent: boolean;
  readonly blind: readonly string[];
  readonly startedAt: Date;
}

/** All workers, the oldest first; those that have said nothing for so long are silent. */
export const workerRows = (silentSeconds: number): Promise<WorkerRow[]> =>
  models().query<WorkerRow>(
    `SELECT id, title, place, pid, born, threads, blind, started_at AS "startedAt",
       seen_at < now() - make_interval(secs => $1) AS "isSilent" FROM workers ORDER BY started_at`,
    { bind: [silentSeconds], type: QueryTypes.SELECT },
  );

/** Enters a worker, or renews what is known of it. */
export async function enterWorkerRow({ id, title, place, pid, born, threads }: WorkerFacts): Promise<void> {
  await models().query(
    `INSERT INTO workers (id, title, place, pid, born, threads) VALUES ($1, $2, $3, $4, $5, $6)
     ON CONFLICT (id) DO UPDATE SET seen_at = now()`,
    { bind: [id, title, place, pid, born, threads] },
  );
}

export async function dropWorkerRow(id: string): Promise<void> {
  await models().query('DELETE FROM workers WHERE id = $1', { bind: [id] });
}

/** Says which folders a worker does not see. */
export async function setBlind(id: string, blind: readonly string[]): Promise<void> {
  await models().query('UPDATE workers SET blind = $2 WHERE id = $1', { bind: [id, JSON.stringify(blind)] });
}

/** How many batches each worker has now. */
export async function batchCounts(): Promise<Map<string, number>> {
  const busy = await models().query<{ id: string; batches: string }>(
    `SELECT worker_id AS id, count(*) AS batches FROM batches WHERE state = 'taken' GROUP BY worker_id`,
    { type: QueryTypes.SELECT },
  );
  return new Map(busy.map(({ id, batches }) => [id, Number(batches)]));
}

/** What became of jobs whose workers are gone. */
export interface ReapedRows {
  readonly resumed: readonly string[];
  readonly failed: readonly string[];
}

/**
 * Takes workers off. Their batches are open again; jobs that they led wait anew where their kind is one of `resumed` and fewer than
 * `mostAttempts` workers ended under them, and have failed otherwise.
 */
export async function reapRows(
  gone: readonly string[],
  resumed: readonly string[],
  mostAttempts: number,
): Promise<ReapedRows> {
  return models().transaction(async () => {
    for (const id of gone) await dropWorkerRow(id);
    await models().query(
      `UPDATE batches SET state = 'open', worker_id = NULL, attempts = attempts + 1
       WHERE state = 'taken' AND NOT EXISTS (SELECT 1 FROM workers w WHERE w.id = batches.worker_id)`,
    );
    // Of several who look at the same time one gets each job.
    const ended = async (set: string, where: string): Promise<string[]> => {
      const ids = await models().query<{ id: string }>(
        `UPDATE jobs SET ${set} WHERE state = 'running' AND ${where}
           AND (cardinality($1::text[]) > 0) AND NOT EXISTS (SELECT 1 FROM workers w WHERE w.id = jobs.worker_id) RETURNING id`,
        { bind: [[...resumed]], type: QueryTypes.SELECT },
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
       error = 'Workers ended under this ${mostAttempts} times, so it is not begun again by itself. What it had written is kept; look at the log, then start it again.'`,
      `kind = ANY($1::text[]) AND attempts + 1 >= ${mostAttempts}`,
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
