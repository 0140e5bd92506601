import { QueryTypes } from 'sequelize';
import { models } from './models';

/** A batch of a job that a worker has taken. */
export interface TakenBatch {
  readonly id: string;
  readonly jobId: string;
  readonly number: number;
  readonly body: string;
}

/** A batch that so many workers ended on is not given to another one as it is. */
const MOST_ATTEMPTS = 2;

/** Puts batches of a job where every worker finds them. Their numbers are the job's own. */
export async function putBatches(
  jobId: string,
  batches: readonly { readonly number: number; readonly body: string }[],
): Promise<void> {
  await models().query(
    `INSERT INTO batches (job_id, number, body) SELECT $1, number, body FROM unnest($2::integer[], $3::text[]) AS t(number, body)`,
    { bind: [jobId, batches.map(({ number }) => number), batches.map(({ body }) => body)] },
  );
}

/** Takes up to `most` batches of the job that was served longest ago, so that several jobs get on side by side. */
export async function takeBatches(
  workerId: string,
  most: number,
  notOf: readonly string[],
): Promise<TakenBatch[]> {
  return models().query<TakenBatch>(
    `WITH job AS (
       SELECT j.id FROM jobs j
       WHERE j.state = 'running' AND NOT j.cancel_asked AND NOT (j.id = ANY($2::uuid[]))
         AND EXISTS (SELECT 1 FROM batches b WHERE b.job_id = j.id AND b.state = 'open' AND b.attempts < ${MOST_ATTEMPTS})
       ORDER BY j.served_at NULLS FIRST LIMIT 1
     ), served AS (
       UPDATE jobs SET served_at = clock_timestamp() WHERE id = (SELECT id FROM job)
     ), picked AS (
       SELECT b.id FROM batches b
       WHERE b.job_id = (SELECT id FROM job) AND b.state = 'open' AND b.attempts < ${MOST_ATTEMPTS}
       ORDER BY b.id LIMIT $3 FOR UPDATE SKIP LOCKED
     )
     UPDATE batches SET state = 'taken', worker_id = $1 FROM picked WHERE batches.id = picked.id
     RETURNING batches.id, batches.job_id AS "jobId", batches.number, batches.body`,
    { bind: [workerId, [...notOf], most], type: QueryTypes.SELECT },
  );
}

/** Says what came of a batch; one that was taken away meanwhile is left alone. */
export async function answerBatch(id: string, workerId: string, answer: string): Promise<void> {
  await models().query(
    `UPDATE batches SET state = 'done', answer = $3 WHERE id = $1 AND worker_id = $2 AND state = 'taken'`,
    { bind: [id, workerId, answer] },
  );
}

/** Gives batches back, for another worker. `isFault` counts as an attempt. */
export async function giveBack(ids: readonly string[], workerId: string, isFault: boolean): Promise<void> {
  await models().query(
    `UPDATE batches SET state = 'open', worker_id = NULL, attempts = attempts + $3
     WHERE id = ANY($1::bigint[]) AND worker_id = $2 AND state = 'taken'`,
    { bind: [[...ids], workerId, isFault ? 1 : 0] },
  );
}

/** Gives back what the board says a worker has, but for those that it knows of: the answer to a question may be lost. */
export async function giveBackAllBut(ids: readonly string[], workerId: string): Promise<void> {
  await models().query(
    `UPDATE batches SET state = 'open', worker_id = NULL
     WHERE worker_id = $2 AND state = 'taken' AND NOT (id = ANY($1::bigint[]))`,
    { bind: [[...ids], workerId] },
  );
}

/** Fetches what has come of a job's batches, each once. */
export async function fetchAnswers(jobId: string): Promise<{ number: number; answer: string }[]> {
  return models().query<{ number: number; answer: string }>(
    `DELETE FROM batches WHERE job_id = $1 AND state = 'done' RETURNING number, answer`,
    { bind: [jobId], type: QueryTypes.SELECT },
  );
}

/** Fetches the numbers of batches that too many workers ended on. */
export async function fetchSpent(jobId: string): Promise<number[]> {
  const rows = await models().query<{ number: number }>(
    `DELETE FROM batches WHERE job_id = $1 AND state = 'open' AND attempts >= ${MOST_ATTEMPTS} RETURNING number`,
    { bind: [jobId], type: QueryTypes.SELECT },
  );
  return rows.map(({ number }) => number);
}

/** Takes away what nobody has begun, and what was left done; the answer is how many are still under way. */
export async function withdrawBatches(jobId: string): Promise<number> {
  await models().query(`DELETE FROM batches WHERE job_id = $1 AND state IN ('open', 'done')`, {
    bind: [jobId],
  });
  const [row] = await models().query<{ count: string }>(
    `SELECT count(*) AS count FROM batches WHERE job_id = $1`,
    { bind: [jobId], type: QueryTypes.SELECT },
  );
  return Number(row?.count ?? 0);
}

/** Those of some jobs that are to stop, or that no longer run. */
export async function stoppedOf(jobIds: readonly string[]): Promise<string[]> {
  const going = await models().query<{ id: string }>(
    `SELECT id FROM jobs WHERE id = ANY($1::uuid[]) AND state = 'running' AND NOT cancel_asked`,
    { bind: [[...jobIds]], type: QueryTypes.SELECT },
  );
  const ids = new Set(going.map(({ id }) => id));
  return jobIds.filter((id) => !ids.has(id));
}

/** Makes a job the only one that writes into a folder; false while another one that runs does. */
export async function claimFolder(folder: string, jobId: string): Promise<boolean> {
  const claimed = await models().query(
    `INSERT INTO facts (name, value) VALUES ($1, $2) ON CONFLICT (name) DO UPDATE SET value = excluded.value
     WHERE facts.value = excluded.value
       OR NOT EXISTS (SELECT 1 FROM jobs WHERE id::text = facts.value AND state = 'running') RETURNING name`,
    { bind: [`writes ${folder}`, jobId], type: QueryTypes.SELECT },
  );
  return claimed.length > 0;
}

export async function releaseFolder(folder: string, jobId: string): Promise<void> {
  await models().query('DELETE FROM facts WHERE name = $1 AND value = $2', {
    bind: [`writes ${folder}`, jobId],
  });
}
