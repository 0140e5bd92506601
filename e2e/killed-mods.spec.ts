import fs from 'node:fs';
import path from 'node:path';
import { Hold } from '../demo/runtime/lanternfen/hold';
import { writeHold } from '../demo/world/hold-writer';
import { expect, folderHash, test, type Game, type Server } from './fixtures';
import { job, modOf } from './mods-api';
import { addWorker, kill, listWorkers, pidOf } from './worker-steps';

const HOLDS = ['holds/a.hold', 'holds/b.hold', 'holds/c.hold'];
/** Large enough that a kill meets the work and not its end. */
const MB = 24;

/** A game of three archives and a mod that changes one picture in each. */
async function world(server: Server, scratch: string): Promise<{ game: Game; modId: number }> {
  const folder = path.join(scratch, 'killed');
  fs.mkdirSync(path.join(folder, 'holds'), { recursive: true });
  for (const [rank, name] of HOLDS.entries())
    writeHold(
      path.join(folder, name),
      [
        { path: `text/${rank}.txt`, data: () => Buffer.from('as it was\n') },
        { path: `film/${rank}.bin`, data: () => Buffer.alloc(MB << 20, rank + 1), loose: true },
      ],
      { roll: true, rank, salt: Buffer.alloc(16) },
    );
  const game = await server.addGame(folder, `Killed ${process.pid}`);
  const texts = HOLDS.map((_name, rank) => [`text/${rank}.txt`, `changed ${rank}\n`] as const);
  return { game, modId: await modOf(server, game, 'Mine', Object.fromEntries(texts)) };
}

const textsOf = (game: Game): string[] =>
  HOLDS.map((name, rank) =>
    new Hold(path.join(game.folder, name), Buffer.alloc(32)).take(`text/${rank}.txt`).toString(),
  );

test('a worker that is killed while it builds or installs leaves the old game or the new one, and says which', async ({
  server,
  scratch,
}) => {
  const { game, modId } = await world(server, scratch);
  const untouched = folderHash(game.folder);
  const [own] = await listWorkers(server);
  const jobsOf = async (kind: string): Promise<{ id: string; state: string; error: string | null }[]> =>
    (await server.jobs(game.id)).filter((one) => one.kind === kind);

  /** Has another worker do it and kills that one some time after it began. */
  const cut = async (data: Record<string, unknown>, moment: number): Promise<string> => {
    const helper = await addWorker(server);
    process.kill(pidOf(own!), 'SIGSTOP');
    let id: string;
    try {
      id = ((await (await server.api.post(`/api/games/${game.id}/jobs`, { data })).json()) as { id: string })
        .id;
      await expect
        .poll(async () => (await server.jobs(game.id)).find((one) => one.id === id)?.state, {
          intervals: [10],
        })
        .not.toBe('waiting');
      await new Promise((resolve) => setTimeout(resolve, moment));
      await kill(helper);
    } finally {
      process.kill(pidOf(own!), 'SIGCONT');
    }
    await server.settled(game.id);
    return (await server.jobs(game.id)).find((one) => one.id === id)!.state;
  };

  const states = new Set<string>();
  for (const moment of [0, 120, 350]) {
    states.add(await cut({ kind: 'build', modId }, moment));
    expect(folderHash(game.folder)).toBe(untouched);
  }
  // No build that was cut short is offered, and building again works.
  const { result } = await job(server, game, { kind: 'build', modId });
  const offered = (await (await server.api.get(`/api/games/${game.id}/mods/${modId}/builds`)).json()) as {
    id: number;
    holds: boolean;
  }[];
  expect(offered.filter(({ holds }) => holds).map(({ id }) => id)).toContain(result!.buildId);

  for (const moment of [0, 100, 250, 500]) {
    states.add(await cut({ kind: 'install', buildId: result!.buildId }, moment));
    // What was cut short is undone or finished by a worker that lives.
    await expect
      .poll(() => {
        const texts = new Set(textsOf(game).map((text) => text.replace(/ \d/, '')));
        const left = fs.readdirSync(path.join(game.folder, 'holds'));
        return left.length === HOLDS.length && texts.size === 1;
      })
      .toBe(true);
    await server.settled(game.id);
    if (folderHash(game.folder) === untouched) continue;
    expect(textsOf(game)).toEqual(['changed 0\n', 'changed 1\n', 'changed 2\n']);
    expect(await job(server, game, { kind: 'restore' })).toMatchObject({ state: 'done' });
    expect(folderHash(game.folder)).toBe(untouched);
  }
  expect(states).toContain('failed');
  for (const { error } of (await jobsOf('build')).filter(({ state }) => state === 'failed'))
    expect(error).toContain('Start it again');
  expect(await job(server, game, { kind: 'install', buildId: result!.buildId })).toMatchObject({
    state: 'done',
  });
  expect(await job(server, game, { kind: 'restore' })).toMatchObject({ state: 'done' });
  expect(folderHash(game.folder)).toBe(untouched);
  await server.api.delete(`/api/games/${game.id}`);
});

test('two workers are told to install, restore and build at once: one after the other, and the same request once', async ({
  server,
  scratch,
}) => {
  const { game, modId } = await world(server, scratch);
  const untouched = folderHash(game.folder);
  const { result } = await job(server, game, { kind: 'build', modId });
  const buildId = result!.buildId as number;
  const ask = async (data: Record<string, unknown>): Promise<string> =>
    ((await (await server.api.post(`/api/games/${game.id}/jobs`, { data })).json()) as { id: string }).id;
  const helper = await addWorker(server);
  try {
    for (let round = 0; round < 4; round++) {
      const install = { kind: 'install', buildId };
      const ids = await Promise.all(
        [install, install, { kind: 'restore' }, { kind: 'build', modId }, install].map(ask),
      );
      // Five presses, three of them the same.
      expect(new Set(ids).size).toBe(3);
      await server.settled(game.id);
      const texts = new Set(textsOf(game).map((text) => text.replace(/ \d/, '')));
      expect(texts.size).toBe(1);
      const { installations } = (await (
        await server.api.get(`/api/games/${game.id}/installations`)
      ).json()) as { installations: { state: string }[] };
      const active = installations.filter(({ state }) => state === 'installed').length;
      expect(active).toBe(texts.has('as it was\n') ? 0 : 1);
    }
  } finally {
    await kill(helper);
  }
  if (folderHash(game.folder) !== untouched) await job(server, game, { kind: 'restore' });
  expect(folderHash(game.folder)).toBe(untouched);

  // A build that is given out never goes into what a link in the folder leads to.
  const out = path.join(scratch, 'given out');
  const victim = path.join(scratch, 'victim');
  fs.writeFileSync(victim, 'mine');
  fs.mkdirSync(path.join(out, 'holds'), { recursive: true });
  fs.symlinkSync(victim, path.join(out, 'holds/a.hold.zero-latch-part'));
  expect(await job(server, game, { kind: 'write-build', buildId, folder: out })).toMatchObject({
    state: 'done',
  });
  expect(fs.readFileSync(victim, 'utf8')).toBe('mine');
  expect(fs.lstatSync(path.join(out, 'holds/a.hold')).isFile()).toBe(true);
  fs.rmSync(out, { recursive: true });
  fs.mkdirSync(out);
  fs.mkdirSync(path.join(scratch, 'outside'));
  fs.symlinkSync(path.join(scratch, 'outside'), path.join(out, 'holds'));
  expect(await job(server, game, { kind: 'write-build', buildId, folder: out })).toMatchObject({
    state: 'failed',
    error: expect.stringContaining('a link in the target leads out of it'),
  });
  expect(fs.readdirSync(path.join(scratch, 'outside'))).toEqual([]);
  await server.api.delete(`/api/games/${game.id}`);
});
