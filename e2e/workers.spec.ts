import { spawn, spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { writeHold } from '../demo/world/hold-writer';
import { expect, filesBelow, test, type Game, type Server } from './fixtures';
import { addWorker, kill, listWorkers, pidOf } from './worker-steps';

const COUNT = 4000;
const body = (number: number): Buffer =>
  Buffer.alloc(20_000 + ((number * 7919) % 60_000), `entry ${number} of many `);
const entries = Array.from({ length: COUNT }, (_, i) => ({
  path: `many/${i % 40}/entry_${i}.bin`,
  data: () => body(i),
}));

/** A game of many packed entries with a recipe that takes all. */
async function many(
  server: Server,
  scratch: string,
): Promise<{ game: Game; target: string; run: () => Promise<string> }> {
  const folder = path.join(scratch, 'many');
  fs.mkdirSync(folder);
  writeHold(path.join(folder, 'many.hold'), entries, { roll: true, rank: 1, salt: Buffer.alloc(16) });
  const game = await server.addGame(folder, `Workers ${process.pid}`);
  const target = path.join(scratch, 'out');
  const recipe = { title: 'All', pick: { search: '', folder: '', kind: null }, folder: target };
  const { id } = (await (
    await server.api.post(`/api/games/${game.id}/recipes`, { data: { recipe } })
  ).json()) as { id: number };
  const run = async (): Promise<string> =>
    ((await (await server.api.post(`/api/games/${game.id}/recipes/${id}`)).json()) as { id: string }).id;
  return { game, target, run };
}

interface Job {
  state: string;
  error: string | null;
  result: { counts: Record<string, number> } | null;
}
const jobOf = async (server: Server, id: string): Promise<Job> =>
  (await (await server.api.get(`/api/jobs/${id}`)).json()) as Job;

async function ended(server: Server, id: string): Promise<Record<string, number>> {
  await expect.poll(async () => (await jobOf(server, id)).state, { timeout: 90_000 }).toBe('done');
  return (await jobOf(server, id)).result!.counts;
}

function checkFiles(target: string): void {
  const files = filesBelow(target).filter((name) => name !== 'zero-latch-log.tsv');
  expect(files).toHaveLength(COUNT);
  for (const [i, { path: name }] of entries.entries())
    if (!fs.readFileSync(path.join(target, name)).equals(body(i))) throw new Error(`${name} differs`);
}

const begun = (target: string): boolean => fs.existsSync(path.join(target, 'many', '0'));

test('workers share a run; those that are killed lose nothing, be it one that helps or the one that leads', async ({
  page,
  server,
  scratch,
}) => {
  const { game, target, run } = await many(server, scratch);
  const [own] = await listWorkers(server);

  // Two share a run: both have batches of it at some time, and the page says who they are.
  let helper = await addWorker(server);
  await page.goto('/activity');
  await expect(page.getByRole('list', { name: 'Workers' }).getByRole('listitem')).toHaveCount(2);
  const first = await run();
  const busy = new Set<string>();
  await expect
    .poll(
      async () => {
        for (const { id, batches } of await listWorkers(server)) if (batches > 0) busy.add(id);
        return busy.size === 2 || (await jobOf(server, first)).state === 'done';
      },
      { intervals: [20], timeout: 60_000 },
    )
    .toBe(true);
  expect(busy.size).toBe(2);
  expect((await ended(server, first)).written).toBe(COUNT);
  checkFiles(target);

  // The helper is killed at some moment, again and again; what it had is done by the other.
  for (const moment of [0, 300]) {
    fs.rmSync(target, { recursive: true });
    const id = await run();
    await expect.poll(() => begun(target), { intervals: [10] }).toBe(true);
    await page.waitForTimeout(moment);
    await kill(helper);
    const { written = 0, skipped = 0, ...rest } = await ended(server, id);
    expect(written + skipped).toBe(COUNT);
    expect(rest).toMatchObject({ kept: 0, failed: 0, missing: 0 });
    checkFiles(target);
    helper = await addWorker(server);
  }

  // The worker that leads is killed: the other takes the run up where it was.
  fs.rmSync(target, { recursive: true });
  process.kill(pidOf(own!), 'SIGSTOP');
  let id: string;
  try {
    id = await run();
    await expect.poll(() => begun(target), { intervals: [10], timeout: 60_000 }).toBe(true);
  } finally {
    process.kill(pidOf(own!), 'SIGCONT');
  }
  await kill(helper);
  const { written = 0, skipped = 0 } = await ended(server, id);
  expect(skipped).toBeGreaterThan(0);
  expect(written + skipped).toBe(COUNT);
  checkFiles(target);
  expect(
    fs
      .readdirSync(target)
      .filter((name) => name.startsWith('.'))
      .sort(),
  ).toEqual(['.zero-latch-ledger']);
  await server.api.delete(`/api/games/${game.id}`);
});

test('a run that was told to stop is not taken up again when its worker ends', async ({
  server,
  scratch,
}) => {
  const { game, target, run } = await many(server, scratch);
  const [own] = await listWorkers(server);
  const helper = await addWorker(server);
  let id: string;
  process.kill(pidOf(own!), 'SIGSTOP');
  try {
    id = await run();
    await expect.poll(() => begun(target), { intervals: [10], timeout: 60_000 }).toBe(true);
    process.kill(helper.pid!, 'SIGSTOP');
    await server.api.delete(`/api/jobs/${id}`);
    await kill(helper);
  } finally {
    process.kill(pidOf(own!), 'SIGCONT');
  }
  await expect.poll(async () => (await jobOf(server, id)).state, { timeout: 60_000 }).not.toBe('running');
  expect(await jobOf(server, id)).toMatchObject({
    state: 'cancelled',
    error: expect.stringContaining('told to stop'),
  });
  await server.api.delete(`/api/games/${game.id}`);
});

// A folder can be hidden from one process only where mounts may be made.
const canHide = spawnSync('unshare', ['-m', 'true']).status === 0;

test('a worker that does not see a folder says so and takes nothing of it', async ({
  page,
  server,
  scratch,
}) => {
  test.skip(!canHide, 'needs leave to make mounts');
  const { game, target, run } = await many(server, scratch);
  fs.mkdirSync(target);
  const hide = `mount -t tmpfs none "${target}" && exec "$0" "$@"`;
  const [own] = await listWorkers(server);
  const blind = await addWorker(server, ['unshare', '-m', 'sh', '-c', hide]);
  // Whoever leads writes into what it sees; here the one that sees the folder leads, and rests until the other has come to it.
  process.kill(blind.pid!, 'SIGSTOP');
  const id = await run();
  await expect.poll(() => begun(target), { intervals: [10], timeout: 60_000 }).toBe(true);
  process.kill(pidOf(own!), 'SIGSTOP');
  try {
    process.kill(blind.pid!, 'SIGCONT');
    await expect
      .poll(async () => (await listWorkers(server)).flatMap((one) => one.blind).join(), {
        timeout: 60_000,
        intervals: [50],
      })
      .toContain('not the folder that the run writes to');
  } finally {
    process.kill(pidOf(own!), 'SIGCONT');
  }
  await page.goto('/activity');
  await expect(page.getByRole('list', { name: 'Workers' })).toContainText('does not see all');
  expect((await ended(server, id)).written).toBe(COUNT);
  checkFiles(target);
  await kill(blind);
  await server.api.delete(`/api/games/${game.id}`);
});

test('bin/worker starts its worker again when that is killed, and ends with it when told to', async ({
  server,
}) => {
  const known = new Set((await listWorkers(server)).map(({ id }) => id));
  const fresh = async (): Promise<number[]> =>
    (await listWorkers(server)).filter(({ id }) => !known.has(id)).map(pidOf);
  const command = spawn('bin/worker', { stdio: 'ignore', detached: true });
  const ended = new Promise((resolve) => command.once('exit', resolve));
  await expect.poll(async () => (await fresh()).length, { timeout: 60_000 }).toBe(1);
  const [first] = await fresh();
  process.kill(first!, 'SIGKILL');
  await expect.poll(async () => (await fresh()).some((pid) => pid !== first), { timeout: 60_000 }).toBe(true);
  command.kill('SIGTERM');
  await ended;
  await expect.poll(async () => (await fresh()).filter((pid) => fs.existsSync(`/proc/${pid}`))).toEqual([]);
});
