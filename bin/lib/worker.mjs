import { spawn } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { bundleJobs, WORKER_ENV, WORKER_FLAGS } from './app.mjs';
import { watchPart } from './watch.mjs';

const root = process.cwd();
const data = path.resolve(process.env.ZERO_LATCH_DATA ?? '.data');

/** Where the work is: as it is given, or as the application that runs on this machine has it. */
function place() {
  const { DATABASE_URL, ZERO_LATCH_STORAGE } = process.env;
  if (DATABASE_URL && ZERO_LATCH_STORAGE) return { DATABASE_URL, ZERO_LATCH_STORAGE };
  try {
    const { database, storage } = JSON.parse(fs.readFileSync(path.join(data, 'running.json'), 'utf8'));
    return { DATABASE_URL: DATABASE_URL ?? database, ZERO_LATCH_STORAGE: ZERO_LATCH_STORAGE ?? storage };
  } catch {
    process.stderr.write(
      `No application runs with its data in ${data}. Start it with bin/start; for one on another machine set DATABASE_URL to its\n` +
        `database and ZERO_LATCH_STORAGE to its storage folder, as it is mounted here. docs/workers.md tells more.\n`,
    );
    process.exit(2);
  }
}

const env = {
  ...WORKER_ENV,
  ...process.env,
  ...place(),
  ZERO_LATCH_PROCESS: 'worker',
  NODE_ENV: 'production',
};
const jobs = await bundleJobs(root);
env.ZERO_LATCH_THREADS = jobs;
const launch = () =>
  spawn(process.execPath, [...WORKER_FLAGS, path.join(jobs, 'worker.mjs')], {
    env,
    stdio: 'inherit',
    detached: true,
  });
/** One that ends by itself so soon was given a place that it cannot work with, and would end again. */
const STARTED_MS = 5000;
const began = Date.now();
let child = launch();
let isStopping = false;
const end = (code) => {
  fs.rmSync(jobs, { recursive: true, force: true });
  process.exit(code);
};
child.once('exit', (code) => {
  if (code !== null && Date.now() - began < STARTED_MS) end(code);
});
watchPart('worker', child, () => (child = launch()), {
  say: (text) => process.stderr.write(`${text}\n`),
  isStopping: () => isStopping,
});
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
  process.on(signal, () => {
    isStopping = true;
    // It may be gone, and the next one not there yet.
    if (child.exitCode !== null || child.signalCode !== null) end(0);
    child.once('exit', (code) => end(code ?? 1));
    child.kill('SIGTERM');
  });
