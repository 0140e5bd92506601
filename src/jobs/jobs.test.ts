import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { databaseUrl, JobRow } from '@/db';
import type { GameView } from '@/server/games/games';
import { findEntries } from '@/server/entries/entries';
import { cancelJob, enqueue, pauseJob, queue, resumeJob } from '@/server/running/jobs';
import { TestBed } from '@/server/testing/bed';
import { endWorkers, TestWorker } from './testing-worker';

const bed = new TestBed();
let game: GameView;
const MANY = 400;
const textOf = (i: number): string => `line ${i} `.repeat(200 + i);
beforeAll(async () => {
  await bed.begin();
  game = await bed.game('jobs', {
    'many.zip': Object.fromEntries(Array.from({ length: MANY }, (_, i) => [`texts/${i}.txt`, textOf(i)])),
    // Long enough to be stopped in the middle of, and small on the disk.
    'long.zip': Object.fromEntries(
      Array.from({ length: 600 }, (_, i) => [`zeros/${i}.bin`, '0'.repeat(1 << 20)]),
    ),
  });
}, 60_000);
afterAll(async () => {
  await (await queue()).stop({ graceful: false });
  await bed.end();
});

let worker: TestWorker;
beforeEach(async () => {
  worker = await new TestWorker().begin(false);
});
afterEach(async () => {
  await endWorkers();
});

const rowOf = async (id: string): Promise<JobRow> => (await JobRow.findByPk(id))!;
/** Waits until a job is as it should be; whoever never is runs into the time of the test. */
async function until(id: string, isSo: (row: JobRow) => boolean): Promise<JobRow> {
  for (;;) {
    const row = await rowOf(id);
    if (isSo(row)) return row;
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}
const search = (text: string, folder = '') =>
  enqueue('search-inside', 'Search', { gameId: game.id, text, hex: '', hash: '', folder, search: '' });

/** Asks a job to stop once it has told how far it is, beside this thread, which the job keeps busy. */
const STOPPER = `
  const { workerData: { url, id } } = require('node:worker_threads');
  const pg = require('pg');
  (async () => {
    const client = new pg.Client(url);
    await client.connect();
    const sql = "UPDATE jobs SET cancel_asked = true WHERE id = $1 AND progress ? 'done'";
    while ((await client.query(sql, [id])).rowCount === 0);
  })();
`;

describe('a job', () => {
  test('is done by whoever takes it, once, and keeps what came of it', async () => {
    const { id, state } = await search('line 7 ', 'texts');
    expect(state).toBe('waiting');
    const other = await new TestWorker().begin(false);
    await Promise.all([worker.runner.work(id), other.runner.work(id)]);
    const row = await rowOf(id);
    expect(row).toMatchObject({ state: 'done', error: null });
    expect([worker.me.id, other.me.id]).toContain(row.workerId);
    expect((row.result as { searched: number }).searched).toBe(MANY);
    expect(row.endedAt).not.toBeNull();
    await worker.runner.work(id);
    expect((await rowOf(id)).endedAt).toEqual(row.endedAt);
  });

  test('that cannot be done says why, and the next one is done', async () => {
    const { id } = await enqueue('find-alike', 'Alike', { gameId: game.id, archiveId: 1_000_000, index: 0 });
    await worker.runner.work(id);
    expect(await rowOf(id)).toMatchObject({ state: 'failed', result: null });
    expect((await rowOf(id)).error).toMatch(/cannot be looked at/);
    const next = await search('line 7 ', 'texts');
    await worker.runner.work(next.id);
    expect((await rowOf(next.id)).state).toBe('done');
  });

  test('that is stopped before it begins is never begun', async () => {
    const { id } = await search('nothing');
    await cancelJob(id);
    await worker.runner.work(id);
    expect(await rowOf(id)).toMatchObject({ state: 'cancelled', workerId: null });
  });

  test('that runs tells how far it is, and stops when it is asked to', async () => {
    const { id } = await search('nothing that is there', 'zeros');
    const stopper = new Worker(STOPPER, { eval: true, workerData: { url: databaseUrl(), id } });
    await worker.runner.work(id);
    await stopper.terminate();
    expect(await rowOf(id)).toMatchObject({ state: 'cancelled', result: null });
  }, 60_000);

  test('asked for twice while it waits is one', async () => {
    const [one, other] = await Promise.all(
      [0, 1].map(() => enqueue('learn-names', 'Learn', { gameId: game.id })),
    );
    expect(other!.id).toBe(one!.id);
    await cancelJob(one!.id);
  });
});

describe('an extraction', () => {
  const folderOf = (name: string): string => path.join(bed.folder, name);
  const ask = async (folder: string) => {
    const { rows } = await findEntries({
      ...{ gameId: game.id, folder: 'texts', search: '', kind: undefined, archiveId: undefined },
      ...{ sort: 'path', isDescending: false, offset: 0, limit: 1000 },
    });
    const entries = rows.map(({ archiveId, index }) => ({ archiveId, index }));
    return enqueue('extract', 'Extract', { gameId: game.id, entries, folder, convert: {} as never });
  };
  const written = (folder: string): string[] =>
    (fs.readdirSync(folder, { recursive: true, encoding: 'utf8' }) as string[]).filter((name) =>
      name.endsWith('.txt'),
    );
  const checkAll = (folder: string): void => {
    const files = written(folder);
    expect(files).toHaveLength(MANY);
    const digest = (bytes: string | Buffer): string => createHash('sha1').update(bytes).digest('hex');
    for (const file of files) {
      const i = Number(path.basename(file, '.txt'));
      expect(digest(fs.readFileSync(path.join(folder, file)))).toBe(digest(textOf(i)));
    }
  };

  test('is done by the threads of any worker, each entry once', async () => {
    await new TestWorker().begin(true);
    const folder = folderOf('all');
    const { id } = await ask(folder);
    await worker.runner.work(id);
    expect(await rowOf(id)).toMatchObject({ state: 'done', error: null });
    checkAll(folder);
  }, 60_000);

  test('whose threads end is finished by others', async () => {
    const [first, second] = [await new TestWorker().begin(true), new TestWorker()];
    const folder = folderOf('handed-on');
    const { id } = await ask(folder);
    const run = worker.runner.work(id);
    await until(id, ({ state }) => state === 'running');
    // Whatever they have by then they give back.
    await first.endThreads();
    await second.begin(true);
    await run;
    expect((await rowOf(id)).state).toBe('done');
    checkAll(folder);
  }, 60_000);

  test('is paused, and goes on where it was', async () => {
    const folder = folderOf('paused');
    const { id } = await ask(folder);
    // Nobody takes its batches yet.
    const run = worker.runner.work(id);
    await until(id, ({ state }) => state === 'running');
    await pauseJob(id);
    await run;
    expect(await rowOf(id)).toMatchObject({ state: 'paused', endedAt: null });
    await resumeJob(id);
    expect((await rowOf(id)).state).toBe('waiting');
    await new TestWorker().begin(true);
    await worker.runner.work(id);
    expect((await rowOf(id)).state).toBe('done');
    checkAll(folder);
  }, 60_000);

  test('run again writes nothing that is there already', async () => {
    await new TestWorker().begin(true);
    const folder = folderOf('all');
    const times = (): number[] => written(folder).map((file) => fs.statSync(path.join(folder, file)).mtimeMs);
    const before = times();
    expect(before).toHaveLength(MANY);
    const { id } = await ask(folder);
    await worker.runner.work(id);
    expect((await rowOf(id)).state).toBe('done');
    expect(times()).toEqual(before);
  }, 60_000);
});
