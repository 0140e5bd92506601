import { afterAll, afterEach, beforeAll, beforeEach, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import pg from 'pg';
import { databaseUrl, JobRow } from '@/db';
import { closeIdle } from '@/server/films/open-films';
import { addGame, type GameView } from '@/server/games/games';
import { addMod, listChanges } from '@/server/mods/mods';
import { cancelJob, enqueue, pauseJob, queue, resumeJob } from '@/server/running/jobs';
import { keepBlob } from '@/server/storage/storage';
import { TestBed } from '@/server/testing/bed';
import { endWorkers, TestWorker } from './testing-worker';

/** Jobs that stand still where they are: the making of films. */
const bed = new TestBed();
let game: GameView;
let blob: string;
let worker: TestWorker;

const film = (name: string, seconds: number, size: string, args: readonly string[]): Buffer => {
  const file = path.join(bed.folder, name);
  const source = ['-f', 'lavfi', '-i', `testsrc2=size=${size}:rate=25:duration=${seconds}`];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...source, ...args, file]);
  return fs.readFileSync(file);
};

beforeAll(async () => {
  await bed.begin();
  const folder = path.join(bed.folder, 'slots');
  const webm = film('old.webm', 2, '96x64', ['-c:v', 'libvpx', '-deadline', 'realtime']);
  bed.zipBytes(path.join(folder, 'films.zip'), { 'old.webm': webm });
  game = await addGame({ title: 'Held', folder, notes: '' });
  await bed.scan(game);
  const x264 = ['-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p'];
  blob = keepBlob(film('new.mp4', 7, '480x320', x264));
}, 180_000);
afterAll(async () => {
  await closeIdle(0);
  await (await queue()).stop({ graceful: false });
  await bed.end();
});
beforeEach(async () => {
  worker = await new TestWorker().begin(false);
});
afterEach(endWorkers);

const rowOf = async (id: string): Promise<JobRow> => (await JobRow.findByPk(id))!;
async function until(id: string, isSo: (row: JobRow) => boolean): Promise<JobRow> {
  for (;;) {
    const row = await rowOf(id);
    if (isSo(row)) return row;
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}

async function begun(): Promise<{ id: string; mod: number; run: Promise<void> }> {
  const mod = (await addMod(game.id, 'Film')).id;
  const { archiveId, index } = await bed.entry(game, 'old.webm');
  const { id } = await enqueue('make-film', 'Make a film', {
    ...{ gameId: game.id, modId: mod, archiveId, index },
    wish: {
      ...{ blob, name: 'new.mp4', width: 480, height: 320, rate: 25, bitRate: 900_000, sounds: [] },
      ...{ fit: 'pad', passes: 1, effort: 'best', even: false },
    },
  });
  const run = worker.runner.work(id);
  await until(id, ({ progress }) => (progress as { done?: number }).done! > 20);
  return { id, mod, run };
}
/** What the system says of the encoders of this process, by their numbers: T for those that stand still. */
const allEncoders = (): (readonly [pid: string, state: string])[] =>
  fs
    .readdirSync('/proc')
    .filter((pid) => /^\d+$/.test(pid))
    .flatMap((pid) => {
      try {
        const [, name, rest] = /\((.*)\) (.*)/.exec(fs.readFileSync(`/proc/${pid}/stat`, 'utf8'))!;
        const [state, parent] = rest!.split(' ');
        return name === 'ffmpeg' && Number(parent) === process.pid ? [[pid, state!] as const] : [];
      } catch {
        // It has ended meanwhile.
        return [];
      }
    });
/** Those that other tests of this process have left, which end by themselves when nobody watches. */
let others = new Set<string>();
beforeEach(() => {
  others = new Set(allEncoders().map(([pid]) => pid));
});
const encoders = (): string[] => allEncoders().flatMap(([pid, state]) => (others.has(pid) ? [] : [state]));

test('the making of a film is paused, leaves its place to others, and goes on where it was', async () => {
  const { id, mod, run } = await begun();
  await pauseJob(id);
  // Whoever led it is free, though it has not ended.
  await run;
  const row = await rowOf(id);
  expect(row).toMatchObject({ state: 'paused', endedAt: null, workerId: worker.me.id });
  while (encoders().join() !== 'T') await new Promise((resolve) => setTimeout(resolve, 20));
  const other = await enqueue('search-inside', 'Search', {
    ...{ gameId: game.id, text: 'nothing', hex: '', hash: '', folder: '', search: '' },
  });
  await worker.runner.work(other.id);
  expect((await rowOf(other.id)).state).toBe('done');
  expect((await rowOf(id)).progress).toEqual(row.progress);
  await resumeJob(id);
  // Another worker that is told of it, too, leaves it to the one that has it.
  const second = await new TestWorker().begin(false);
  await second.runner.work(id);
  await worker.runner.work(id);
  const ended = await until(id, ({ state }) => state === 'done' || state === 'failed');
  expect(ended).toMatchObject({ state: 'done', workerId: worker.me.id, error: null });
  expect(ended.result).toMatchObject({ pictures: 175 });
  expect(await listChanges(game.id, mod)).toHaveLength(1);
}, 240_000);

test('stopped while it stands still, nothing of it is left', async () => {
  const { id, mod, run } = await begun();
  await pauseJob(id);
  await run;
  await cancelJob(id);
  expect((await rowOf(id)).state).toBe('cancelled');
  while (encoders().length > 0) await new Promise((resolve) => setTimeout(resolve, 20));
  expect(await listChanges(game.id, mod)).toEqual([]);
  await resumeJob(id);
  expect((await rowOf(id)).state).toBe('cancelled');
}, 180_000);

test('a database that goes away while it stands still does not keep it from being stopped', async () => {
  const { id, run } = await begun();
  await pauseJob(id);
  await run;
  // What asks in this moment fails; whoever looks after the job asks again.
  const client = new pg.Client(databaseUrl());
  await client.connect();
  await client.query('ALTER TABLE jobs RENAME TO jobs_away');
  await new Promise((resolve) => setTimeout(resolve, 700));
  await client.query('ALTER TABLE jobs_away RENAME TO jobs');
  await client.end();
  expect((await rowOf(id)).state).toBe('paused');
  await cancelJob(id);
  while (encoders().length > 0) await new Promise((resolve) => setTimeout(resolve, 20));
}, 180_000);

test('where its worker is gone, it is begun anew by another one', async () => {
  const { id, run } = await begun();
  await pauseJob(id);
  await run;
  await worker.end();
  const second = await new TestWorker().begin(false);
  await resumeJob(id);
  const again = second.runner.work(id);
  await until(id, ({ state, workerId }) => state === 'running' && workerId === second.me.id);
  await cancelJob(id);
  await again;
  expect((await rowOf(id)).state).toBe('cancelled');
  while (encoders().length > 0) await new Promise((resolve) => setTimeout(resolve, 20));
}, 180_000);
