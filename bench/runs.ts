import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { MB } from './measure';
import { makeEncrypted, makeSample, makeZip } from './samples';

/**
 * Extraction through the whole application, each in turn with the usual tool, what a run costs that finds nothing changed, and what
 * workers add: npm run bench:runs [-- small]
 */
// Plain JavaScript, which the types know nothing of.
const { startApp } = (await import(path.resolve('bin/lib/app.mjs'))) as {
  startApp(options: object): Promise<App>;
};
const small = process.argv.includes('small');
const only = process.argv.slice(2).filter((word) => word !== 'small');
const ROUNDS = Number(process.env.ROUNDS ?? (small ? 1 : 3));
const root = path.resolve(import.meta.dirname, '..');
const work = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-runs-'));
fs.chmodSync(work, 0o755);
/** What is written in a round goes into a folder of its own: a file system is slow to use again what was removed a moment ago. */
const outs = path.join(work, 'outs');
let out = '';
const say = (text: string): void => void process.stdout.write(`${text}\n`);
const median = (times: number[]): number => [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)]!;

interface App {
  readonly address: string;
  /** What a command shows with each request. */
  readonly headers: Readonly<Record<string, string>>;
  readonly env: Record<string, string>;
  readonly children: ChildProcess[];
  stop(): Promise<void>;
  worker(): ChildProcess;
}
interface Job {
  readonly id: string;
  readonly state: string;
  readonly createdAt: string;
  readonly endedAt: string;
  readonly error: string | null;
  readonly result: { readonly counts: Record<string, number> };
}

let app: App;
async function api<T>(method: string, place: string, body?: object): Promise<T> {
  const ask = (): Promise<Response> =>
    fetch(`${app.address}/api/${place}`, {
      method,
      headers: { ...app.headers, 'content-type': 'application/json' },
      ...(body && { body: JSON.stringify(body) }),
    });
  // The server has closed the connection while a tool was run and nothing was asked.
  const response = await ask().catch(ask);
  if (!response.ok) throw new Error(`${place}: ${await response.text()}`);
  return (await response.json()) as T;
}

async function settled(game: number): Promise<Job> {
  for (;;) {
    const [job] = await api<Job[]>('GET', `jobs?game=${game}`);
    if (job && !['waiting', 'running'].includes(job.state)) {
      if (job.state !== 'done') throw new Error(job.error ?? job.state);
      return job;
    }
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

let rounds = 0;
function fresh(): string {
  out = path.join(outs, `${rounds++}`);
  fs.mkdirSync(out, { recursive: true });
  spawnSync('sync');
  return out;
}

/** A game of one archive with a recipe that takes all of it. */
async function shelve(
  archive: string,
  more: () => Promise<void> = () => Promise.resolve(),
): Promise<{ game: number; recipe: number }> {
  const folder = path.join(work, `game-${path.basename(archive)}`);
  fs.mkdirSync(folder, { recursive: true });
  fs.renameSync(archive, path.join(folder, path.basename(archive)));
  await more();
  const { id: game } = await api<{ id: number }>('POST', 'games', { title: path.basename(archive), folder });
  await settled(game);
  fresh();
  const recipe = await api<{ id: number }>('POST', `games/${game}/recipes`, { recipe: everything() });
  return { game, recipe: recipe.id };
}

const everything = (): object => ({
  title: 'All',
  pick: { search: '', folder: '', kind: null },
  folder: path.join(out, 'run'),
});

/** Lets the recipe write into the folder of this round. */
async function aim({ game, recipe }: { game: number; recipe: number }): Promise<void> {
  await api('POST', `games/${game}/recipes`, { recipe: everything(), id: recipe });
}

/** From the request to the end, in seconds, as the database has it. */
async function run(game: number, recipe: number): Promise<number> {
  await api('POST', `games/${game}/recipes/${recipe}`);
  const job = await settled(game);
  if ((job.result.counts.failed ?? 0) > 0)
    throw new Error(JSON.stringify(await api('GET', `jobs/${job.id}/items?state=failed&limit=1`)));
  return (Date.parse(job.endedAt) - Date.parse(job.createdAt)) / 1000;
}

function tool(command: string, args: string[]): number {
  const began = performance.now();
  const { status } = spawnSync(command, args, { stdio: ['ignore', 'ignore', 'inherit'] });
  if (status !== 0) throw new Error(`${command} ended with ${status}`);
  return (performance.now() - began) / 1000;
}

const worker = (): number =>
  app.children.find(({ spawnargs }) => spawnargs.at(-1)!.endsWith('worker.mjs'))!.pid!;
/** Seconds of processor time that a process has had with its threads, and its largest resident size. */
function spent(pid: number): { cpu: number; peak: number } {
  const stat = fs.readFileSync(`/proc/${pid}/stat`, 'utf8');
  const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
  const peak = Number(/VmHWM:\s*(\d+)/.exec(fs.readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) * 1024;
  return { cpu: (Number(fields[11]) + Number(fields[12])) / 100, peak };
}

async function compare(
  what: string,
  wanted: string,
  theirs: () => number,
  which: { game: number; recipe: number },
): Promise<void> {
  const a: number[] = [];
  const b: number[] = [];
  const cores: number[] = [];
  for (let i = 0; i < ROUNDS; i++) {
    fresh();
    a.push(theirs());
    fresh();
    await aim(which);
    const before = spent(worker());
    b.push(await run(which.game, which.recipe));
    cores.push((spent(worker()).cpu - before.cpu) / b.at(-1)!);
  }
  const ratio = median(b) / median(a);
  say(
    `| ${what} | ${median(a).toFixed(2)} s | ${median(b).toFixed(2)} s | **${ratio.toFixed(2)}** | ${wanted} | ${median(cores).toFixed(1)} | ${MB(spent(worker()).peak)} |`,
  );
}

async function plain(): Promise<void> {
  const count = small ? 2000 : 20_000;
  const folder = path.join(work, 'plain');
  fs.mkdirSync(folder);
  const sample = makeSample(folder, count, 107_374);
  spawnSync('tar', ['-cf', sample.tar, '-C', path.join(folder, 'files'), '.']);
  fs.rmSync(path.join(folder, 'files'), { recursive: true });
  const which = await shelve(sample.hold);
  await compare(
    `${count} plain files, ${MB(sample.bytes)}, against \`tar -xf\``,
    'at most 1.0',
    () => tool('tar', ['-xf', sample.tar, '-C', out]),
    which,
  );
  const again = await run(which.game, which.recipe);
  say(`| again over them, nothing changed | | ${again.toFixed(2)} s | | | | |`);
}

async function deflated(): Promise<void> {
  const count = small ? 300 : 3000;
  const zip = makeZip(work, count, 300_000);
  const which = await shelve(zip);
  const moved = path.join(work, 'game-sample.zip', 'sample.zip');
  await compare(
    `deflated ZIP of ${count} files, ${MB(count * 300_000)}, against \`unzip\``,
    'at most 0.8',
    () => tool('unzip', ['-q', moved, '-d', out]),
    which,
  );
}

async function encrypted(): Promise<void> {
  const count = small ? 100 : 1000;
  const sample = makeEncrypted(work, count, 1 << 20);
  await api('POST', 'scripts', { id: 'bench-encr', text: fs.readFileSync(sample.script, 'utf8') });
  const which = await shelve(sample.archive);
  await api('POST', `games/${which.game}/keys`, { text: sample.hex, label: 'bench' });
  await settled(which.game);
  const inflate = spawnSync('pigz', ['--version']).status === 0 ? 'pigz' : 'gzip';
  await compare(
    `AES-256-CTR over deflate, ${MB(count << 20)} in ${count} files, against \`openssl enc -d | ${inflate} -d\` into one`,
    'at most 1.0',
    () =>
      tool('sh', [
        '-c',
        `${sample.plainTool} -d -in ${sample.encryptedFile} | ${inflate} -d > ${path.join(out, 'one')}`,
      ]),
    which,
  );
}

/** A hundred thousand small files: what a run costs that writes nothing. */
async function unchanged(): Promise<void> {
  const count = small ? 10_000 : 100_000;
  const folder = path.join(work, 'many');
  fs.mkdirSync(folder);
  const sample = makeSample(folder, count, 200);
  fs.rmSync(path.join(folder, 'files'), { recursive: true });
  fs.renameSync(sample.hold, path.join(folder, 'many.hold'));
  const which = await shelve(path.join(folder, 'many.hold'));
  fresh();
  await aim(which);
  const first = await run(which.game, which.recipe);
  const times: number[] = [];
  for (let i = 0; i < ROUNDS; i++) times.push(await run(which.game, which.recipe));
  say(`| ${count} small files, written for the first time | | ${first.toFixed(2)} s | | | | |`);
  say(
    `| again over them, nothing changed | | ${median(times).toFixed(2)} s | | under 5 s | | ${MB(spent(worker()).peak)} |`,
  );
}

/** The same with workers of one thread each: what the second adds. */
async function workers(): Promise<void> {
  const zip = makeZip(work, small ? 300 : 3000, 300_000);
  fs.renameSync(zip, path.join(work, 'shared.zip'));
  const which = await shelve(path.join(work, 'shared.zip'));
  const times: number[][] = [[], []];
  let second: ChildProcess | undefined;
  for (let i = 0; i < ROUNDS; i++)
    for (const two of [0, 1]) {
      if (two)
        second = spawn(process.execPath, [app.children[1]!.spawnargs.at(-1)!], {
          env: { ...process.env, ...app.env },
          stdio: 'ignore',
          cwd: root,
        });
      while ((await api<unknown[]>('GET', 'workers')).length !== 1 + two)
        await new Promise((resolve) => setTimeout(resolve, 50));
      fresh();
      await aim(which);
      times[two]!.push(await run(which.game, which.recipe));
      if (second && two) {
        const ended = new Promise((resolve) => second!.once('exit', resolve));
        second.kill('SIGTERM');
        await ended;
      }
    }
  const [one, both] = times.map(median) as [number, number];
  say(
    `| deflated ZIP, one worker of one thread, then two | ${one.toFixed(2)} s | ${both.toFixed(2)} s | **${(both / one).toFixed(2)}** | 0.5 if nothing were shared | | |`,
  );
}

/** A pick as a ZIP: what the server holds while it is sent. */
async function download(): Promise<void> {
  const count = small ? 1000 : 6000;
  const folder = path.join(work, 'download');
  fs.mkdirSync(folder);
  const sample = makeSample(folder, count, 107_374);
  fs.renameSync(sample.hold, path.join(folder, 'download.hold'));
  const { game } = await shelve(path.join(folder, 'download.hold'));
  const entries: { archiveId: number; index: number }[] = [];
  while (entries.length < count) {
    const page = await api<{ rows: { archiveId: number; index: number }[] }>(
      'GET',
      `games/${game}/entries?limit=500&offset=${entries.length}`,
    );
    entries.push(...page.rows.map(({ archiveId, index }) => ({ archiveId, index })));
  }
  const { ticket } = await api<{ ticket: string }>('POST', `games/${game}/picks`, { entries });
  const web = app.children[0]!.pid!;
  const before = spent(web).peak;
  const file = path.join(work, 'pick.zip');
  const seconds = tool('curl', [
    '-s',
    '-H',
    `authorization: ${app.headers.authorization}`,
    '-o',
    file,
    `${app.address}/api/downloads/${ticket}`,
  ]);
  if (spawnSync('unzip', ['-tqq', file]).status !== 0) throw new Error('The ZIP is broken.');
  say(
    `| download of ${count} entries, ${MB(sample.bytes)}, as a ZIP | | ${seconds.toFixed(1)} s | | flat memory | | server ${MB(before)} before, ${MB(spent(web).peak)} at most |`,
  );
}

const PARTS = { plain, deflated, encrypted, unchanged, workers, download };
try {
  say('| what | baseline | ours | ratio | aim | cores | peak of the worker |\n|---|---|---|---|---|---|---|');
  for (const [name, part] of Object.entries(PARTS)) {
    if (only.length > 0 && !only.includes(name)) continue;
    if (name === 'workers') process.env.ZERO_LATCH_WORKER_THREADS = '1';
    app = await startApp({
      root,
      data: path.join(work, 'data'),
      say: () => undefined,
      firstPort: 4900,
      output: 'ignore',
      isThrowaway: true,
    });
    try {
      await part();
    } finally {
      await app.stop();
    }
  }
} finally {
  fs.rmSync(work, { recursive: true, force: true });
}
