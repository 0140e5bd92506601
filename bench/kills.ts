import { spawn, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { writeHold } from '../demo/world/hold-writer';

/**
 * Kills workers and stops the database while a game is built for, installed into, restored and extracted from, and looks after each
 * time whether folder and records agree: npm run kills -- --rounds N [--seed S] [--only KIND]. Ends with 1 when anything was wrong.
 */
interface App {
  readonly address: string;
  readonly headers: Readonly<Record<string, string>>;
  readonly env: Record<string, string>;
  readonly storage: string;
  readonly cluster: { stop(): void; start(): void };
  readonly first: { readonly worker: ChildProcess };
  stop(): Promise<void>;
}
const { startApp } = (await import(path.resolve('bin/lib/app.mjs'))) as {
  startApp(options: object): Promise<App>;
};
const numberOf = (name: string, otherwise: number): number => {
  const at = process.argv.indexOf(`--${name}`);
  return at < 0 ? otherwise : Number(process.argv[at + 1]);
};
const rounds = numberOf('rounds', 60);
let state = numberOf('seed', Date.now() % 2 ** 31);
const say = (text: string): void => void process.stdout.write(`${text}\n`);
say(`seed ${state}`);
/** Numbers by chance that a seed gives again (Park and Miller, 1988). */
const chance = (below: number): number => {
  state = (state * 48_271) % 2_147_483_647;
  return state % below;
};
const rest = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

const work = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-kills-'));
fs.chmodSync(work, 0o755);
const folder = path.join(work, 'game');
const HOLDS = ['a', 'b', 'c', 'd'];
const MB = 3;
fs.mkdirSync(folder);
for (const [rank, name] of HOLDS.entries())
  writeHold(
    path.join(folder, `${name}.hold`),
    [
      { path: `text/${rank}.txt`, data: () => Buffer.from('as it was\n') },
      { path: `film/${rank}.bin`, data: () => Buffer.alloc(MB << 20, rank + 1), loose: true },
      ...Array.from({ length: 40 }, (_, i) => ({
        path: `many/${rank}/${i}.txt`,
        data: () => Buffer.alloc(20_000, `${i}`),
      })),
    ],
    { roll: true, rank, salt: Buffer.alloc(16) },
  );

const app = await startApp({
  ...{ root: process.cwd(), data: path.join(work, 'data'), say, firstPort: 4900, output: 'ignore' },
  isThrowaway: true,
});
const api = async <T>(method: string, place: string, body?: unknown): Promise<T> => {
  const isBytes = body instanceof Uint8Array;
  for (let tries = 0; ; tries++) {
    const answer = await fetch(`${app.address}/api/${place}`, {
      method,
      headers: { ...app.headers, ...(!isBytes && { 'content-type': 'application/json' }) },
      ...(body !== undefined && { body: isBytes ? new Uint8Array(body) : JSON.stringify(body) }),
    }).catch(() => undefined);
    if (answer?.ok) return (await answer.json()) as T;
    // The database is away, or a connection was closed as it was used.
    if ((answer && answer.status !== 503) || tries > 100)
      throw new Error(`${place}: ${answer ? await answer.text() : 'no answer'}`);
    await rest(200);
  }
};

/** What the workers say; shown where something was wrong. */
const logFile = path.join(work, 'workers.log');
const log = fs.openSync(logFile, 'a');
let worker = app.first.worker;
function startWorker(): ChildProcess {
  return spawn(process.execPath, [path.join(app.env.ZERO_LATCH_THREADS!, 'worker.mjs')], {
    env: { ...process.env, ...app.env, ZERO_LATCH_PROCESS: 'worker' },
    stdio: ['ignore', log, log],
    detached: true,
  });
}
async function killWorker(one: ChildProcess): Promise<void> {
  if (one.exitCode !== null || one.signalCode !== null) return;
  const ended = new Promise((resolve) => one.once('exit', resolve));
  process.kill(-one.pid!, 'SIGKILL');
  await ended;
}

interface Job {
  readonly id: string;
  readonly kind: string;
  readonly state: string;
  readonly error: string | null;
  readonly result: Record<string, unknown> | null;
}
const jobs = (): Promise<Job[]> => api<Job[]>('GET', `jobs?game=${game}`);
async function settled(): Promise<Job[]> {
  for (let i = 0; i < 1200; i++) {
    const all = await jobs();
    if (all.length > 0 && all.every(({ state: now }) => !['waiting', 'running'].includes(now))) return all;
    await rest(50);
  }
  throw new Error('jobs did not come to their end within a minute');
}
const ask = (data: object): Promise<Job> => api<Job>('POST', `games/${game}/jobs`, data);
async function done(data: object): Promise<Job> {
  const { id } = await ask(data);
  return (await settled()).find((one) => one.id === id)!;
}

const hashOf = (file: string): string => createHash('sha256').update(fs.readFileSync(file)).digest('hex');
const filesIn = (root: string): string[] =>
  fs
    .readdirSync(root, { recursive: true, withFileTypes: true })
    .filter((item) => item.isFile())
    .map((item) => path.relative(root, path.join(item.parentPath, item.name)))
    .sort();
const stateOf = (root: string): string =>
  filesIn(root)
    .map((name) => `${name} ${hashOf(path.join(root, name))}`)
    .join('\n');

const { id: game } = await api<{ id: number }>('POST', 'games', { title: 'Killed', folder });
await settled();
const original = stateOf(folder);
const { id: mod } = await api<{ id: number }>('POST', `games/${game}/mods`, { title: 'Mine' });
interface Row {
  readonly path: string;
  readonly archiveId: number;
  readonly index: number;
}
const { rows } = await api<{ rows: Row[] }>('GET', `games/${game}/entries?search=text/`);
for (const { path: name, archiveId, index } of rows) {
  const slot = new URLSearchParams({ archive: `${archiveId}`, index: `${index}`, name: path.basename(name) });
  await api('PUT', `games/${game}/mods/${mod}/changes?${slot}`, Buffer.from(`changed ${name}\n`));
}
const built = await done({ kind: 'build', modId: mod });
const buildId = built.result!.buildId as number;
await done({ kind: 'install', buildId });
const modded = stateOf(folder);
await done({ kind: 'restore' });
const out = path.join(work, 'out');
const recipe = await api<{ id: number }>('POST', `games/${game}/recipes`, {
  recipe: { title: 'All', pick: { search: '', folder: '', kind: null }, folder: out },
});
await api('POST', `games/${game}/recipes/${recipe.id}`);
await settled();
const extracted = (): string =>
  filesIn(out)
    .filter((name) => !path.basename(name).startsWith('.zero-latch') && !name.endsWith('.tsv'))
    .map((name) => `${name} ${hashOf(path.join(out, name))}`)
    .join('\n');
const whole = extracted();

const wrong: string[] = [];
const counts = new Map<string, number>();
const count = (what: string): void => void counts.set(what, (counts.get(what) ?? 0) + 1);

/** Journals that are open; what a killed worker was writing as one is swept a minute later. */
const journals = (): number =>
  fs.readdirSync(path.join(app.storage, 'journals')).filter((name) => name.endsWith('.json')).length;

/** What has to be so whenever nothing is under way. */
async function look(what: string): Promise<void> {
  await settled();
  for (let i = 0; i < 600 && journals() > 0; i++) await rest(50);
  await settled();
  const now = stateOf(folder);
  const is = now === original ? 'original' : now === modded ? 'modded' : 'mixed';
  const { installations } = await api<{ installations: { state: string }[] }>(
    'GET',
    `games/${game}/installations`,
  );
  const active = installations.filter(({ state: one }) => one === 'installed').length;
  const open = journals();
  if (is === 'mixed') wrong.push(`${what}: the folder is neither the old nor the new one`);
  if (active !== (is === 'modded' ? 1 : 0))
    wrong.push(`${what}: the folder is ${is}, the records tell of ${active} installed`);
  if (open > 0) wrong.push(`${what}: a journal is still open`);
  count(`the folder came out ${is}`);
}
const isModded = (): boolean => stateOf(folder) === modded;

/** Begins something and kills the worker some time after. */
async function cut(data: object | undefined, most: number): Promise<void> {
  const id = data ? (await ask(data)).id : (await api<Job>('POST', `games/${game}/recipes/${recipe.id}`)).id;
  for (let i = 0; i < 400; i++) {
    const one = (await jobs()).find((job) => job.id === id);
    if (one && one.state !== 'waiting') break;
    await rest(5);
  }
  await rest(chance(most));
  await killWorker(worker);
  worker = startWorker();
}

const KINDS = {
  build: () => cut({ kind: 'build', modId: mod }, 400),
  install: () => cut({ kind: 'install', buildId }, 300),
  restore: async () => {
    if (!isModded()) await done({ kind: 'install', buildId });
    await cut({ kind: 'restore' }, 300);
  },
  run: async () => {
    if (isModded()) await done({ kind: 'restore' });
    // A scan that follows what was cut short may still be to come; a run before it refuses what has changed, in words.
    await done({ kind: 'scan' });
    fs.rmSync(out, { recursive: true, force: true });
    await cut(undefined, 400);
    await settled();
    const now = new Set(extracted().split('\n'));
    const wanted = new Set(whole.split('\n'));
    const missing = [...wanted].filter((line) => !now.has(line));
    const more = [...now].filter((line) => !wanted.has(line));
    if (missing.length + more.length > 0)
      wrong.push(
        `run: ${missing.length} files are missing (${missing[0] ?? ''}), ${more.length} are too many (${more[0] ?? ''}); ${JSON.stringify((await jobs())[0])}`,
      );
  },
  'two at once': async () => {
    const other = startWorker();
    await Promise.all([
      ask({ kind: 'install', buildId }),
      ask({ kind: 'restore' }).catch(() => undefined),
      ask({ kind: 'build', modId: mod }),
      ask({ kind: 'install', buildId }),
    ]);
    await rest(chance(600));
    await killWorker(chance(2) === 0 ? other : worker);
    await killWorker(other);
    if (worker.exitCode !== null || worker.signalCode !== null) worker = startWorker();
  },
  'database away': async () => {
    await ask(isModded() ? { kind: 'restore' } : { kind: 'install', buildId });
    await rest(chance(400));
    app.cluster.stop();
    await rest(500 + chance(1500));
    app.cluster.start();
    // A worker that ended for want of the database is what bin/start would start again.
    await rest(500);
    if (worker.exitCode !== null || worker.signalCode !== null) {
      count('workers that did not outlive the database');
      worker = startWorker();
    }
  },
} as const;

const began = Date.now();
const only = process.argv[process.argv.indexOf('--only') + 1];
const names = (Object.keys(KINDS) as (keyof typeof KINDS)[]).filter(
  (name) => !process.argv.includes('--only') || name === only,
);
for (let round = 0; round < rounds; round++) {
  const what = names[round % names.length]!;
  const before = wrong.length;
  try {
    await KINDS[what]();
    await look(`round ${round}, ${what}`);
  } catch (error) {
    wrong.push(`round ${round}, ${what}: ${error instanceof Error ? error.message : String(error)}`);
  }
  count(what);
  for (const text of wrong.slice(before)) say(`WRONG ${text}`);
  if (wrong.length > before) say(fs.readFileSync(logFile, 'utf8').split('\n').slice(-12).join('\n'));
  if ((round + 1) % 30 === 0) say(`${round + 1} rounds, ${wrong.length} wrong`);
}
// At last the way back to the originals is open.
if (isModded()) {
  const back = await done({ kind: 'restore' });
  if (back.state !== 'done' || stateOf(folder) !== original)
    wrong.push(`the originals did not come back: ${back.error}`);
}
await killWorker(worker);
await app.stop();
fs.rmSync(work, { recursive: true, force: true });
say(
  `${rounds} rounds in ${Math.round((Date.now() - began) / 1000)} s: ${[...counts].map(([what, n]) => `${what} ${n}`).join(', ')}; ${wrong.length} wrong`,
);
process.exit(wrong.length > 0 ? 1 : 0);
