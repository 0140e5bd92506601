import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { writeHold } from '../demo/world/hold-writer';
import { expect, folderHash, test } from './fixtures';
import { job, modOf } from './mods-api';

const data = process.env.ZERO_LATCH_TEST_DATA;

/** Where the cluster of this test run was, since it has to come back there. */
let port = '';

/** Stops or starts the cluster of this test run, as a crash of the database would. */
function cluster(action: 'stop' | 'start'): void {
  const code = `import { startCluster } from './bin/lib/cluster.mjs';
    const [data, action, port] = process.argv.slice(1);
    const cluster = await startCluster(data, port ? { at: Number(port) } : {});
    if (action === 'stop') cluster.stop();
    process.stdout.write(String(cluster.port));`;
  const result = spawnSync(
    process.execPath,
    ['--input-type=module', '-e', code, path.resolve(data!), action, action === 'start' ? port : ''],
    { encoding: 'utf8' },
  );
  expect(result.status, result.stderr).toBe(0);
  port = result.stdout.trim();
}

test('a database that goes away is said on the page, which goes on by itself once it is back', async ({
  page,
  lanternfen,
}) => {
  test.skip(!process.env.ZERO_LATCH_CLUSTER, 'the database is not ours to stop');
  await page.goto(`/games/${lanternfen.id}/contents`);
  await expect(page.locator('[data-entry]').first()).toBeVisible();
  cluster('stop');
  try {
    await expect(
      page
        .getByRole('alert')
        .getByText(/The database does not answer. Nothing is lost/)
        .first(),
    ).toBeVisible();
    await page.getByLabel('Search the contents').fill('ferry');
    await expect(page.getByText(/The database does not answer. Nothing was lost/).first()).toBeVisible({
      timeout: 60_000,
    });
  } finally {
    cluster('start');
  }
  await expect(page.getByRole('alert').getByText(/Nothing is lost/)).toHaveCount(0, { timeout: 60_000 });
  await page.getByLabel('Search the contents').fill('credits');
  await expect(page.locator('[data-entry]').filter({ hasText: 'credits.txt' })).toBeVisible({
    timeout: 60_000,
  });
});

test('jobs run again after the database was away', async ({ server, lanternfen }) => {
  await expect
    .poll(async () => {
      const answer = await server.api.post(`/api/games/${lanternfen.id}/jobs`, { data: { kind: 'scan' } });
      return answer.status();
    })
    .toBe(200);
  const jobs = await server.settled(lanternfen.id);
  expect(jobs[0]).toMatchObject({ kind: 'scan', state: 'done' });
});

test('an extraction that the database leaves in the middle goes on by itself', async ({
  server,
  scratch,
}) => {
  test.skip(!process.env.ZERO_LATCH_CLUSTER, 'the database is not ours to stop');
  const folder = path.join(scratch, 'many');
  fs.mkdirSync(folder);
  const entries = Array.from({ length: 4000 }, (_, i) => ({
    path: `d${i % 20}/entry_${i}.bin`,
    data: () => Buffer.alloc(30_000, `entry ${i} `),
  }));
  writeHold(path.join(folder, 'many.hold'), entries, { roll: true, rank: 1, salt: Buffer.alloc(16) });
  const game = await server.addGame(folder, `Away ${process.pid}`);
  const target = path.join(scratch, 'out');
  const recipe = { title: 'All', pick: { search: '', folder: '', kind: null }, folder: target };
  const kept = await server.api.post(`/api/games/${game.id}/recipes`, { data: { recipe } });
  const { id } = (await kept.json()) as { id: number };
  await server.api.post(`/api/games/${game.id}/recipes/${id}`);
  await expect.poll(() => fs.existsSync(path.join(target, 'd0')), { intervals: [10] }).toBe(true);
  cluster('stop');
  cluster('start');
  const run = async () =>
    (await server.jobs(game.id).catch(() => [])).find(({ kind }) => kind === 'run-recipe');
  await expect.poll(async () => (await run())?.state, { timeout: 60_000 }).toBe('done');
  const { counts } = (await run())!.result as { counts: Record<string, number> };
  expect(counts.written! + counts.skipped!).toBe(4000);
  expect(counts).toMatchObject({ failed: 0, kept: 0 });
  for (const { path: name, data } of entries)
    if (!fs.readFileSync(path.join(target, name)).equals(data())) throw new Error(`${name} differs`);
  await server.api.delete(`/api/games/${game.id}`);
});

test('a database that goes away while a mod is installed or restored leaves folder and records agreed', async ({
  server,
  scratch,
}) => {
  test.skip(!process.env.ZERO_LATCH_CLUSTER, 'the database is not ours to stop');
  const folder = path.join(scratch, 'away');
  fs.mkdirSync(folder);
  for (const [rank, name] of ['a', 'b', 'c'].entries())
    writeHold(
      path.join(folder, `${name}.hold`),
      [
        { path: `text/${rank}.txt`, data: () => Buffer.from('as it was\n') },
        { path: `film/${rank}.bin`, data: () => Buffer.alloc(12 << 20, rank + 1), loose: true },
      ],
      { roll: true, rank, salt: Buffer.alloc(16) },
    );
  const game = await server.addGame(folder, `Away with mods ${process.pid}`);
  const contents = Object.fromEntries([0, 1, 2].map((rank) => [`text/${rank}.txt`, 'changed\n']));
  const modId = await modOf(server, game, 'Mine', contents);
  const original = folderHash(folder);
  const { result } = await job(server, game, { kind: 'build', modId });
  const buildId = result!.buildId as number;
  expect(await job(server, game, { kind: 'install', buildId })).toMatchObject({ state: 'done' });
  const modded = folderHash(folder);
  for (const moment of [30, 120, 300, 60]) {
    const isModded = folderHash(folder) === modded;
    await server.api.post(`/api/games/${game.id}/jobs`, {
      data: isModded ? { kind: 'restore' } : { kind: 'install', buildId },
    });
    await new Promise((resolve) => setTimeout(resolve, moment));
    cluster('stop');
    cluster('start');
    const journals = path.join(process.env.ZERO_LATCH_STORAGE!, 'journals');
    await expect.poll(() => fs.readdirSync(journals), { timeout: 60_000 }).toEqual([]);
    await expect
      .poll(async () => (await server.jobs(game.id).catch(() => undefined))?.length ?? 0, { timeout: 60_000 })
      .toBeGreaterThan(0);
    await server.settled(game.id);
    const now = folderHash(folder);
    expect([original, modded]).toContain(now);
    const { installations } = (await (
      await server.api.get(`/api/games/${game.id}/installations`)
    ).json()) as { installations: { state: string }[] };
    expect(installations.filter(({ state }) => state === 'installed')).toHaveLength(now === modded ? 1 : 0);
  }
  if (folderHash(folder) === modded) await job(server, game, { kind: 'restore' });
  expect(folderHash(folder)).toBe(original);
  await server.api.delete(`/api/games/${game.id}`);
});
