import fs from 'node:fs';
import path from 'node:path';
import { startApp } from './app.mjs';

const root = process.cwd();
const data = path.resolve(process.env.ZERO_LATCH_DATA ?? '.data');
const say = (text) => process.stderr.write(`${text}\n`);
const lock = path.join(data, 'running.json');

/** Whether an earlier start still runs; its file says which process it was. */
function refuseSecond() {
  if (!fs.existsSync(lock)) return;
  try {
    const { pid, address } = JSON.parse(fs.readFileSync(lock, 'utf8'));
    process.kill(pid, 0);
    if (fs.readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs')) {
      say(`It runs already: ${address}`);
      process.exit(1);
    }
  } catch {
    // That process is gone.
  }
}

refuseSecond();
fs.mkdirSync(data, { recursive: true });
const began = Date.now();
let app;
let stopAll;
let stopping = false;
const stop = async (code) => {
  if (stopping) return;
  stopping = true;
  say('Stopping ...');
  await stopAll?.();
  fs.rmSync(lock, { force: true });
  process.exit(code);
};
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(0));

try {
  app = await startApp({
    root,
    data,
    say,
    firstPort: Number(process.env.PORT ?? 4400),
    output: 'inherit',
    onStop: (stop) => (stopAll = stop),
  });
} catch (error) {
  if (stopping) await new Promise(() => undefined);
  say(error instanceof Error ? error.message : String(error));
  process.exit(1);
}
// With what bin/worker needs to know; the database's password is in it.
fs.rmSync(lock, { force: true });
fs.writeFileSync(
  lock,
  JSON.stringify({
    pid: process.pid,
    address: app.address,
    database: app.env.DATABASE_URL,
    storage: app.storage,
  }),
  { mode: 0o600 },
);
say(
  `\nZero Latch is ready after ${((Date.now() - began) / 1000).toFixed(1)} s:  ${app.address}\nCtrl-C stops it; everything is kept in ${path.relative(root, data) || data}.\n`,
);
for (const child of app.children)
  child.once('exit', (code, signal) => {
    if (stopping) return;
    say(`A part of the application ended (${child.spawnargs.at(-1)}: ${code ?? signal}).`);
    void stop(1);
  });
