// Brings up all that the application is made of: database, schema, demo world, pages, worker.
import { spawn } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { allowChildren, endChildren, runChild } from './children.mjs';
import { startCluster } from './cluster.mjs';
import { noteParts } from './orphans.mjs';
import { freePort } from './ports.mjs';

const tsx = ['--import', 'tsx'];
/** Many threads that each keep their own freed memory would hold twice of what they need. */
export const WORKER_ENV = { MALLOC_ARENA_MAX: '2' };
/** Node lets garbage grow to four times what is needed where it may have more than two gigabytes, and to less than twice below. */
export const WORKER_FLAGS = ['--max-old-space-size=2000'];

/** Hash of all files that the built pages follow from. */
function sourceStamp(root) {
  const hash = createHash('sha256');
  const add = (place) => {
    const full = path.join(root, place);
    if (fs.statSync(full).isDirectory())
      for (const name of fs.readdirSync(full).sort()) add(path.join(place, name));
    else hash.update(place).update(fs.readFileSync(full));
  };
  for (const place of ['src', 'next.config.ts', 'tsconfig.json', 'package-lock.json']) add(place);
  return hash.digest('hex');
}

/** Builds the pages unless what is there was built from the same sources. */
export async function buildPages(root, say) {
  const stampFile = path.join(root, '.next', 'zero-latch-stamp');
  const stamp = sourceStamp(root);
  if (fs.existsSync(stampFile) && fs.readFileSync(stampFile, 'utf8') === stamp) return;
  say('Building the pages; this takes a minute, once ...');
  const result = await runChild(process.execPath, ['node_modules/next/dist/bin/next', 'build'], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' },
  });
  if (result.status !== 0) throw new Error(`The pages could not be built:\n${result.stdout}${result.stderr}`);
  fs.writeFileSync(stampFile, stamp);
}

/** Bundles the worker and its threads: one file each starts and runs faster than many that are translated one by one. */
export async function bundleJobs(root) {
  const target = path.join(root, 'node_modules', '.cache', 'zero-latch', `jobs-${process.pid}`);
  const parts = [
    'worker',
    'reporter',
    'key-search-thread',
    'scan-thread',
    'look-thread',
    'run-thread',
    'texture-thread',
    'hash-thread',
  ];
  const result = await runChild(
    process.execPath,
    ['bin/lib/bundle.mjs', '--packages-outside', target, ...parts.map((part) => `src/jobs/${part}.ts`)],
    { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] },
  );
  if (result.status !== 0)
    throw new Error(`The worker could not be bundled:\n${result.stdout}${result.stderr}`);
  return target;
}

/** Builds the demo world once; it is the user's from then on. */
export async function buildDemo(root, target, say) {
  if (fs.existsSync(target)) return;
  say('Building the demo game ...');
  const result = await runChild(process.execPath, [...tsx, 'demo/world/build.ts', target], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  if (result.status !== 0)
    throw new Error(`The demo game could not be built:\n${result.stdout}${result.stderr}`);
}

/** What is in the data folder is its owner's alone. The database's user, where that is another one, may go through the folder only. */
function closeData(data) {
  fs.mkdirSync(data, { recursive: true });
  fs.chmodSync(data, process.getuid?.() === 0 ? 0o711 : 0o700);
  for (const inner of ['storage', 'demo']) {
    const folder = path.join(data, inner);
    if (fs.existsSync(folder)) fs.chmodSync(folder, 0o700);
  }
}

async function untilReady(address, headers, children, instance) {
  const end = Date.now() + 60_000;
  while (Date.now() < end) {
    const dead = children.find((child) => child.exitCode !== null || child.signalCode !== null);
    if (dead) throw new Error(`A part of the application ended at once (${dead.spawnargs.join(' ')}).`);
    try {
      const answer = await fetch(`${address}/api/health`, { headers });
      if (answer.ok && (await answer.json()).instance === instance) return;
    } catch {
      // Not listening yet.
    }
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('The application did not answer within a minute.');
}

/**
 * Starts everything below `data` and gives the address and a way to stop it all.
 * Children get process groups of their own, so that a Ctrl-C reaches them through `stop` alone, which
 * `onStop` is told as soon as there is anything to stop.
 */
export async function startApp({
  root,
  data,
  say,
  firstPort,
  output,
  onStop = () => undefined,
  isThrowaway = false,
}) {
  closeData(data);
  const children = [];
  const onEnd = [];
  let cluster;
  let isUp = false;
  let isStopping;
  const stop = () => (isStopping ??= stopAll());
  const stopAll = async () => {
    await endChildren();
    await Promise.all([...children].map(stopChild));
    cluster?.stop();
    for (const end of onEnd) end();
    // Whoever had it running may start it once more.
    if (isUp) allowChildren();
  };
  // Before anything is started, so that whoever is told to stop in the middle ends what there is by then.
  onStop(stop);
  try {
    cluster = process.env.DATABASE_URL ? undefined : await startCluster(data, { isThrowaway });
    const demo = path.join(data, 'demo');
    const storage = path.join(data, 'storage');
    fs.mkdirSync(storage, { recursive: true, mode: 0o700 });
    // One works on one core for the most part, the other on both.
    await Promise.all([buildDemo(root, demo, say), buildPages(root, say)]);
    closeData(data);
    const port = await freePort(firstPort);
    const secret = randomBytes(18).toString('base64url');
    const toolSecret = randomBytes(18).toString('base64url');
    const instance = randomBytes(9).toString('base64url');
    const env = {
      ...process.env,
      ZERO_LATCH_SECRET: secret,
      ZERO_LATCH_TOOL_SECRET: toolSecret,
      ZERO_LATCH_INSTANCE: instance,
      DATABASE_URL: cluster?.url ?? process.env.DATABASE_URL,
      ZERO_LATCH_STORAGE: storage,
      ZERO_LATCH_DEMO: demo,
      NEXT_TELEMETRY_DISABLED: '1',
      NODE_ENV: 'production',
    };
    const setup = await runChild(process.execPath, [...tsx, 'src/jobs/setup.ts'], {
      cwd: root,
      env,
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    if (setup.status !== 0)
      throw new Error(`The database could not be set up:\n${setup.stdout}${setup.stderr}`);
    const launch = (name, args) => {
      if (isStopping) throw new Error('Stopped.');
      const child = spawn(process.execPath, args, {
        cwd: root,
        env: { ...WORKER_ENV, ...env, ZERO_LATCH_PROCESS: name },
        stdio: ['ignore', output, output],
        detached: true,
      });
      children.push(child);
      child.once('exit', () => children.splice(children.indexOf(child), 1));
      noteParts(
        data,
        children.map(({ pid }) => pid),
      );
      return child;
    };
    const jobs = await bundleJobs(root);
    onEnd.push(() => fs.rmSync(jobs, { recursive: true, force: true }));
    env.ZERO_LATCH_THREADS = jobs;
    const web = () =>
      launch('web', ['node_modules/next/dist/bin/next', 'start', '-H', '127.0.0.1', '-p', String(port)]);
    const worker = () => launch('worker', [...WORKER_FLAGS, path.join(jobs, 'worker.mjs')]);
    const first = { web: web(), worker: worker() };
    const address = `http://127.0.0.1:${port}`;
    // What commands show in place of the cookie that the printed address leaves.
    const headers = { origin: address, authorization: `Bearer ${toolSecret}` };
    await untilReady(address, headers, Object.values(first), instance);
    const entrance = `${address}/?enter=${secret}`;
    isUp = true;
    return {
      address,
      entrance,
      secret,
      headers,
      demo,
      storage,
      env,
      cluster,
      children,
      first,
      stop,
      web,
      worker,
    };
  } catch (error) {
    await stop();
    throw error;
  }
}

const GRACE_MS = 8000;

/** Ends a child with all that it started. */
export function stopChild(child) {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    const kill = (signal) => {
      try {
        process.kill(-child.pid, signal);
      } catch {
        // It is gone already.
      }
    };
    const last = setTimeout(() => kill('SIGKILL'), GRACE_MS);
    child.once('exit', () => {
      clearTimeout(last);
      resolve();
    });
    kill('SIGTERM');
  });
}
