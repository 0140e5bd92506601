import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { writeHold, type HoldEntry } from '../demo/world/hold-writer';
import { expect, filesBelow, test, type Server } from './fixtures';

interface Job {
  id: string;
  state: string;
  error: string | null;
  result: { counts: Record<string, number> } | null;
}

/** A game of one hold, with a recipe that takes all of it. */
class Shelf {
  constructor(
    private readonly server: Server,
    private readonly scratch: string,
    readonly gameId: number,
    private readonly recipeId: number,
  ) {}

  static async of(server: Server, scratch: string, entries: HoldEntry[], more: object = {}): Promise<Shelf> {
    const folder = path.join(scratch, 'game');
    fs.mkdirSync(folder);
    Shelf.write(folder, entries);
    const { id } = await server.addGame(folder, `Hard ${process.pid}-${path.basename(scratch)}`);
    const recipe = {
      title: 'All',
      pick: { search: '', folder: '', kind: null },
      folder: path.join(scratch, 'out'),
      ...more,
    };
    const kept = await server.api.post(`/api/games/${id}/recipes`, { data: { recipe } });
    return new Shelf(server, scratch, id, ((await kept.json()) as { id: number }).id);
  }

  static write(folder: string, entries: HoldEntry[]): void {
    writeHold(path.join(folder, 'new'), entries, { roll: true, rank: 1, salt: Buffer.alloc(16) });
    // In the place of the old one at once, as an installer does it.
    fs.renameSync(path.join(folder, 'new'), path.join(folder, 'all.hold'));
  }

  get hold(): string {
    return path.join(this.scratch, 'game', 'all.hold');
  }
  get target(): string {
    return path.join(this.scratch, 'out');
  }

  async begin(): Promise<string> {
    const asked = await this.server.api.post(`/api/games/${this.gameId}/recipes/${this.recipeId}`);
    expect(asked.status(), await asked.text()).toBe(200);
    return ((await asked.json()) as { id: string }).id;
  }

  async ended(id: string): Promise<Job> {
    let job: Job | undefined;
    await expect
      .poll(
        async () => {
          job = (await (await this.server.api.get(`/api/jobs/${id}`)).json()) as Job;
          return job.state;
        },
        { timeout: 60_000 },
      )
      .toMatch(/done|failed/);
    return job!;
  }

  run = async (): Promise<Job> => this.ended(await this.begin());

  async scan(): Promise<void> {
    await this.server.api.post(`/api/games/${this.gameId}/jobs`, { data: { kind: 'scan' } });
    await this.server.settled(this.gameId);
  }

  /** What was written, without the log. */
  files = (): string[] => filesBelow(this.target).filter((name) => name !== 'zero-latch-log.tsv');
  remove = (): Promise<unknown> => this.server.api.delete(`/api/games/${this.gameId}`);
}

const canMount = process.getuid?.() === 0 && spawnSync('unshare', ['-m', 'true']).status === 0;

test('a disk that is full in the middle leaves no half file; with room made the run goes on', async ({
  server,
  scratch,
}) => {
  test.skip(!canMount, 'needs leave to make mounts');
  // What grows on its way: the size of the entries alone would fit.
  const entries = Array.from({ length: 40 }, (_, i) => ({
    path: `tables/t${i}.json`,
    data: () => Buffer.from(JSON.stringify(Array.from({ length: 40_000 }, (_x, n) => (n + i) % 10))),
  }));
  const small = path.join(scratch, 'small');
  fs.mkdirSync(small);
  const mount = (options: string): void =>
    expect(spawnSync('mount', ['-t', 'tmpfs', '-o', options, 'none', small]).status).toBe(0);
  mount('size=4m');
  try {
    const target = path.join(small, 'out');
    const shelf = await Shelf.of(server, scratch, entries, { folder: target, convert: { text: 'pretty' } });
    const full = await shelf.run();
    expect(full).toMatchObject({ state: 'failed' });
    expect(full.error).toContain('The disk is full');
    const files = filesBelow(target).filter((name) => name.endsWith('.json'));
    expect(files.length).toBeGreaterThan(0);
    expect(files.length).toBeLessThan(40);
    const whole = (name: string): string =>
      `${JSON.stringify(
        JSON.parse(
          entries
            .find((one) => one.path === name)!
            .data()
            .toString(),
        ),
        null,
        2,
      )}\n`;
    for (const name of files) expect(fs.readFileSync(path.join(target, name), 'utf8')).toBe(whole(name));
    expect(filesBelow(target).filter((name) => name.includes('zero-latch-part'))).toEqual([]);
    mount('remount,size=64m');
    const done = await shelf.run();
    expect(done.state).toBe('done');
    expect(done.result!.counts).toMatchObject({
      written: 40 - files.length,
      skipped: files.length,
      failed: 0,
    });
    await shelf.remove();
  } finally {
    spawnSync('umount', ['-l', small]);
  }
});

test('ten thousand failures in one run are all told, and tried again alone once they are mended', async ({
  page,
  server,
  scratch,
}) => {
  const entries = Array.from({ length: 12_000 }, (_, i) => ({
    path: `d${i % 20}/entry_${i}.bin`,
    data: () => Buffer.from(`${i % 6 === 0 ? 'sound' : 'hurts'} content of ${i}`),
    loose: true,
  }));
  const shelf = await Shelf.of(server, scratch, entries);
  const good = fs.readFileSync(shelf.hold);
  const broken = Buffer.from(good);
  for (let at = broken.indexOf('hurts'); at >= 0; at = broken.indexOf('hurts', at + 1)) broken[at] = 0x48;
  fs.writeFileSync(shelf.hold, broken);
  await shelf.scan();
  const job = await shelf.run();
  expect(job.state).toBe('done');
  expect(job.result!.counts).toMatchObject({ written: 2000, failed: 10_000 });
  expect(shelf.files()).toHaveLength(2000);
  const log = fs.readFileSync(path.join(shelf.target, 'zero-latch-log.tsv'), 'utf8').split('\n');
  expect(log.filter((line) => line.startsWith('failed\t'))).toHaveLength(10_000);

  await page.goto(`/activity?show=done&job=${job.id}`);
  const side = page.getByRole('region', { name: 'What came of it' });
  await side.getByRole('button', { name: '10,000 failed', exact: true }).click();
  await side.getByLabel('Find in path or reason').fill('entry_11999');
  await expect(side.getByRole('list', { name: 'Log' }).getByRole('listitem')).toHaveCount(1);
  await expect(side.getByRole('list', { name: 'Log' })).toContainText(/failed: .*does not hold/);
  await side.getByLabel('Find in path or reason').fill('');
  await side.getByRole('button', { name: '2,000 written', exact: true }).click();
  await expect(side.getByRole('list', { name: 'Log' })).toContainText('written: new');

  fs.writeFileSync(shelf.hold, good);
  await shelf.scan();
  await side.getByRole('button', { name: 'Try the 10,000 failed again' }).click();
  await expect
    .poll(async () => (await server.jobs(shelf.gameId)).filter(({ kind }) => kind === 'run-recipe').length)
    .toBe(2);
  const again = (await server.settled(shelf.gameId)).find(
    ({ kind, id }) => kind === 'run-recipe' && id !== job.id,
  )!;
  expect(again.result).toMatchObject({ counts: { written: 10_000, skipped: 0, failed: 0 } });
  expect(shelf.files()).toHaveLength(12_000);
  await shelf.remove();
});

test('an archive that is replaced while it is read gives nothing that is taken for the other', async ({
  server,
  scratch,
}) => {
  const of = (what: string): HoldEntry[] =>
    Array.from({ length: 4000 }, (_, i) => ({
      path: `d${i % 20}/entry_${i}.bin`,
      data: () => Buffer.alloc(30_000, `${what} ${i} `),
      loose: true,
    }));
  const [before, after] = [of('before'), of('afterwards')];
  const shelf = await Shelf.of(server, scratch, before);
  const id = await shelf.begin();
  await expect.poll(() => fs.existsSync(path.join(shelf.target, 'd0')), { intervals: [5] }).toBe(true);
  Shelf.write(path.dirname(shelf.hold), after);
  const job = await shelf.ended(id);
  expect(job.state).toBe('done');
  const { written = 0, failed = 0 } = job.result!.counts;
  expect(written + failed).toBe(4000);
  expect(failed).toBeGreaterThan(0);
  const log = fs.readFileSync(path.join(shelf.target, 'zero-latch-log.tsv'), 'utf8');
  expect(log).toMatch(/failed\t.*(has changed since the folder was scanned|changed while it was read)/);
  for (const [i, { path: name, data }] of before.entries()) {
    const file = path.join(shelf.target, name);
    if (!fs.existsSync(file)) continue;
    const is = fs.readFileSync(file);
    expect(is.equals(data()) || is.equals(after[i]!.data()), name).toBe(true);
  }
  await shelf.scan();
  expect((await shelf.run()).result!.counts).toMatchObject({ failed: 0, kept: 0 });
  for (const { path: name, data } of after)
    expect(fs.readFileSync(path.join(shelf.target, name)).equals(data()), name).toBe(true);
  await shelf.remove();
});

test('two runs into one folder take turns, several into different ones go side by side', async ({
  server,
  scratch,
}) => {
  const entries = Array.from({ length: 1500 }, (_, i) => ({
    path: `d/entry_${i}.bin`,
    data: () => Buffer.alloc(20_000, `${i} `),
  }));
  const shelf = await Shelf.of(server, scratch, entries);
  const [a, b] = [await shelf.begin(), await shelf.begin()];
  const counts = [(await shelf.ended(a)).result!.counts, (await shelf.ended(b)).result!.counts];
  expect(counts.map(({ written }) => written).sort()).toEqual([0, 1500]);
  expect(counts.map(({ skipped }) => skipped).sort()).toEqual([0, 1500]);
  await shelf.remove();
});

test('a folder that is removed in the middle ends the run with words, and the next one writes all', async ({
  server,
  scratch,
}) => {
  const entries = Array.from({ length: 4000 }, (_, i) => ({
    path: `d${i % 20}/entry_${i}.bin`,
    data: () => Buffer.alloc(30_000, `entry ${i} `),
  }));
  const shelf = await Shelf.of(server, scratch, entries);
  const id = await shelf.begin();
  await expect.poll(() => fs.existsSync(path.join(shelf.target, 'd0')), { intervals: [5] }).toBe(true);
  fs.renameSync(shelf.target, path.join(scratch, 'away'));
  const job = await shelf.ended(id);
  expect(job.state).toBe('failed');
  expect(job.error).toMatch(/not there any more|no such file/);
  expect((await shelf.run()).result!.counts).toMatchObject({ failed: 0, kept: 0 });
  for (const { path: name, data } of entries)
    if (!fs.readFileSync(path.join(shelf.target, name)).equals(data())) throw new Error(`${name} differs`);
  await shelf.remove();
});
