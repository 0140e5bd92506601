import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { TestBed } from '@/server/testing/bed';
import {
  answerBatch,
  claimFolder,
  fetchAnswers,
  fetchSpent,
  giveBack,
  putBatches,
  releaseFolder,
  stoppedOf,
  takeBatches,
  withdrawBatches,
} from './board';
import { GameRow, JobRow, models } from './models';
import { batchCounts, enterWorkerRow, reapRows, workerRows, type WorkerFacts } from './workers';

/** The board on which jobs and workers meet, in the database that it is made for. */
const bed = new TestBed();
let gameId: number;
beforeAll(async () => {
  await bed.begin();
  models();
  gameId = (await GameRow.create({ title: 'Reeds', folder: '/games/reeds', standIn: null })).id;
});
afterAll(() => bed.end());
beforeEach(async () => {
  await reapRows(
    (await workerRows(20)).map(({ id }) => id),
    [],
    3,
  );
  await JobRow.destroy({ where: {} });
});

const worker = async (title: string): Promise<WorkerFacts> => {
  const facts = { id: randomUUID(), title, place: 'here', pid: 1, born: '1', threads: 2 };
  await enterWorkerRow(facts);
  return facts;
};
const jobOf = async (workerId: string | null, kind = 'run-recipe'): Promise<string> => {
  const id = randomUUID();
  await JobRow.create({ id, gameId, kind, title: kind, state: 'running', input: {}, workerId });
  return id;
};
const batches = (...numbers: number[]) => numbers.map((number) => ({ number, body: `batch ${number}` }));
const stateOf = async (id: string): Promise<string> => (await JobRow.findByPk(id))!.state;

describe('batches', () => {
  test('are taken once each, by turns of jobs, and answered to whoever leads', async () => {
    const [one, two] = [await worker('one'), await worker('two')];
    const [a, b] = [await jobOf(one.id), await jobOf(one.id)];
    await putBatches(a, batches(1, 2, 3));
    await putBatches(b, batches(1));
    const [mine, theirs] = await Promise.all([takeBatches(one.id, 2, []), takeBatches(two.id, 2, [])]);
    mine.push(...(await takeBatches(one.id, 9, [])), ...(await takeBatches(one.id, 9, [])));
    const all = [...mine, ...theirs].map(({ jobId, number }) => `${jobId === a ? 'a' : 'b'}${number}`);
    expect(all.sort()).toEqual(['a1', 'a2', 'a3', 'b1']);
    // Only who has a batch answers it.
    const own = mine[0]!;
    await answerBatch(own.id, two.id, 'not mine');
    expect(await fetchAnswers(own.jobId)).toEqual([]);
    await answerBatch(own.id, one.id, 'done');
    expect(await fetchAnswers(own.jobId)).toEqual([{ number: own.number, answer: 'done' }]);
    expect(await fetchAnswers(own.jobId)).toEqual([]);
  });

  test('one that workers end on goes back twice, and is then spent', async () => {
    const one = await worker('one');
    const job = await jobOf(one.id);
    await putBatches(job, batches(7));
    for (let i = 0; i < 2; i++) {
      const [batch] = await takeBatches(one.id, 1, []);
      expect(batch!.number).toBe(7);
      await giveBack([batch!.id], one.id, true);
    }
    expect(await takeBatches(one.id, 1, [])).toEqual([]);
    expect(await fetchSpent(job)).toEqual([7]);
  });

  test('of a job that stops none is given out, and what is under way is counted', async () => {
    const one = await worker('one');
    const job = await jobOf(one.id);
    await putBatches(job, batches(1, 2));
    await takeBatches(one.id, 1, []);
    await JobRow.update({ cancelAsked: true }, { where: { id: job } });
    expect(await takeBatches(one.id, 1, [])).toEqual([]);
    expect(await stoppedOf([job])).toEqual([job]);
    expect(await withdrawBatches(job)).toBe(1);
  });
});

describe('workers that are gone', () => {
  test('leave their batches to others; their jobs go on, but not for ever', async () => {
    const [one, two] = [await worker('one'), await worker('two')];
    const [run, build] = [await jobOf(one.id), await jobOf(one.id, 'build')];
    await putBatches(run, batches(1, 2));
    await takeBatches(two.id, 1, []);
    expect(await batchCounts()).toEqual(new Map([[two.id, 1]]));
    const reaped = await reapRows([one.id, two.id], ['run-recipe'], 3);
    expect(reaped).toEqual({ resumed: [run], failed: [build] });
    expect([await stateOf(run), await stateOf(build)]).toEqual(['waiting', 'failed']);
    expect(await batchCounts()).toEqual(new Map());
    for (const [attempt, state] of [
      [2, 'waiting'],
      [3, 'failed'],
    ] as const) {
      const next = await worker(`worker ${attempt}`);
      await JobRow.update({ state: 'running', workerId: next.id }, { where: { id: run } });
      await reapRows([next.id], ['run-recipe'], 3);
      expect(await stateOf(run)).toBe(state);
    }
  });

  test('a job that was told to stop or to pause is not taken up again', async () => {
    const one = await worker('one');
    const [stopped, paused] = [await jobOf(one.id), await jobOf(one.id)];
    await JobRow.update({ cancelAsked: true }, { where: { id: [stopped, paused] } });
    await JobRow.update({ pauseAsked: true }, { where: { id: paused } });
    await reapRows([one.id], ['run-recipe'], 3);
    expect([await stateOf(stopped), await stateOf(paused)]).toEqual(['cancelled', 'paused']);
  });
});

test('a folder is written by one job at a time, until that has ended', async () => {
  const one = await worker('one');
  const [a, b] = [await jobOf(one.id), await jobOf(one.id)];
  expect([await claimFolder('/out', a), await claimFolder('/out', a), await claimFolder('/out', b)]).toEqual([
    true,
    true,
    false,
  ]);
  await releaseFolder('/out', b);
  expect(await claimFolder('/out', b)).toBe(false);
  await JobRow.update({ state: 'done' }, { where: { id: a } });
  expect(await claimFolder('/out', b)).toBe(true);
});
