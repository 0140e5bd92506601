import fs from 'node:fs';
import path from 'node:path';
import { startApp } from './app.mjs';
import { takeLock } from './lock.mjs';
import { endOrphans } from './orphans.mjs';
import { watchAnswers, watchPart } from './watch.mjs';

const root = process.cwd();
const data = path.resolve(process.env.ZERO_LATCH_DATA ?? '.data');
const say = (text) => process.stderr.write(`${text}\n`);
/** With what bin/worker needs to know; the database's password and the secret of the address are in it. */
const running = path.join(data, 'running.json');

fs.mkdirSync(data, { recursive: true });
const lock = await takeLock(data);
if (!lock) {
  let entrance;
  try {
    entrance = JSON.parse(fs.readFileSync(running, 'utf8')).entrance;
  } catch {
    // It has not come so far yet.
  }
  say(entrance ? `It runs already:  ${entrance}` : `Another bin/start is starting or stopping with ${data}.`);
  process.exit(1);
}
fs.rmSync(running, { force: true });
const orphans = endOrphans(data);
if (orphans > 0) say(`Ended ${orphans} parts that an earlier start had left behind.`);

const began = Date.now();
let app;
let stopAll;
let stopWatching;
let stopping = false;
const stop = async (code) => {
  if (stopping) return;
  stopping = true;
  say('Stopping ...');
  stopWatching?.();
  await stopAll?.();
  fs.rmSync(running, { force: true });
  lock.release();
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
fs.writeFileSync(
  running,
  JSON.stringify({
    pid: process.pid,
    address: app.address,
    entrance: app.entrance,
    headers: app.headers,
    database: app.env.DATABASE_URL,
    storage: app.storage,
  }),
  { mode: 0o600 },
);
say(
  `\nZero Latch is ready after ${((Date.now() - began) / 1000).toFixed(1)} s:  ${app.entrance}\nThe address is for you alone: its last word opens the application. Ctrl-C stops it; everything is kept in ${path.relative(root, data) || data}.\n`,
);
const watched = { say, isStopping: () => stopping };
let { web } = app.first;
watchPart('server', web, () => (web = app.web()), watched);
watchPart('worker', app.first.worker, app.worker, watched);
stopWatching = watchAnswers({
  ...watched,
  cluster: app.cluster,
  address: app.address,
  restartWeb: () => process.kill(-web.pid, 'SIGKILL'),
});
