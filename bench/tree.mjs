// Scan, second open, pages, searches, memory and learnt names of a game of a million entries, through the whole application.
// npm run bench:tree [-- ENTRIES ARCHIVES]
import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { startApp } from '../bin/lib/app.mjs';

const root = path.resolve(import.meta.dirname, '..');
const [entries = '1000000', archives = '200'] = process.argv.slice(2);
const work = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-tree-'));
fs.chmodSync(work, 0o755);
const data = path.join(work, 'data');
const say = (text) => process.stdout.write(`${text}\n`);

function big(folder, count, holds, more = []) {
  const args = ['big', '--entries', count, '--archives', holds, ...more, folder];
  const { status, stderr } = spawnSync(path.join(root, 'bin/latch-demo'), args, { encoding: 'utf8' });
  if (status !== 0) throw new Error(stderr);
}

const start = () => startApp({ root, data, say, firstPort: 4900, output: 'ignore', isThrowaway: true });
let app;
const api = async (method, place, body) => {
  const response = await fetch(`${app.address}/api/${place}`, {
    method,
    headers: { ...app.headers, 'content-type': 'application/json' },
    ...(body && { body: JSON.stringify(body) }),
  });
  if (!response.ok) throw new Error(`${place}: ${await response.text()}`);
  return response.json();
};
async function settled(game) {
  for (;;) {
    const [job] = await api('GET', `jobs?game=${game}`);
    if (!['waiting', 'running'].includes(job.state)) return job;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}
const took = async (what) => {
  const began = performance.now();
  await what();
  return performance.now() - began;
};
/** Resident bytes of the process that serves the pages, with those it started. */
function memory() {
  const status = (pid) => fs.readFileSync(`/proc/${pid}/status`, 'utf8');
  const rss = (pid) => Number(/VmRSS:\s+(\d+)/.exec(status(pid))?.[1] ?? 0) * 1024;
  const web = app.children[0].pid;
  const inner = fs
    .readdirSync('/proc')
    .filter((pid) => /^\d+$/.test(pid))
    .filter((pid) => {
      try {
        return Number(/PPid:\s+(\d+)/.exec(status(pid))?.[1]) === web;
      } catch {
        return false;
      }
    });
  return [web, ...inner].reduce((sum, pid) => sum + rss(pid), 0);
}
const quantile = (times, part) => [...times].sort((a, b) => a - b)[Math.floor((times.length - 1) * part)];
const ms = (value) => `${value.toFixed(0)} ms`;
const pad = (text) => text.padEnd(52);

/** Runs every address, in an order that is mixed, several times; each differs from those before, so that no answer is kept. */
async function latencies(game, title, addresses) {
  const times = [];
  for (const address of addresses)
    times.push(await took(() => api('GET', `games/${game}/entries?limit=200&${address}`)));
  say(
    `${pad(title)} median ${ms(quantile(times, 0.5))}, 95 % ${ms(quantile(times, 0.95))}, longest ${ms(Math.max(...times))} of ${times.length}`,
  );
}

try {
  const folder = path.join(work, 'big');
  say(`${entries} entries in ${archives} holds`);
  big(folder, entries, archives);
  app = await start();
  let game = await api('POST', 'games', { title: 'Big', folder });
  const scan = await settled(game.id);
  if (scan.state !== 'done') throw new Error(scan.error);
  const seconds = (job) => ((Date.parse(job.endedAt) - Date.parse(job.createdAt)) / 1000).toFixed(1);
  say(`${pad('scan to browsable')} ${seconds(scan)} s`);
  say(`${pad('first page after it')} ${ms(await took(() => api('GET', `games/${game.id}/entries`)))}`);
  await api('POST', `games/${game.id}/jobs`, { kind: 'scan' });
  say(`${pad('scan again, nothing changed')} ${seconds(await settled(game.id))} s`);
  await app.stop();
  app = await start();
  say(
    `${pad('second open: page and folders, fresh process')} ${ms(await took(async () => (await api('GET', `games/${game.id}/entries`), await api('GET', `games/${game.id}/folders`))))}`,
  );
  const words = 'heron boat lantern wick otter jetty quay reed amber frost gull pier spool wake rope'.split(
    ' ',
  );
  await latencies(
    game.id,
    'search by part of a name',
    words.flatMap((a, i) => [
      `search=${a}`,
      `search=${a}_${words[(i + 3) % words.length]}`,
      `search=${a}_${i}`,
      `search=${a.slice(0, 2)}`,
    ]),
  );
  await latencies(
    game.id,
    'pattern, kind, size and hash',
    words.flatMap((a, i) => [
      `search=${a}_*_1%3F_*`,
      `search=kind:sound+${a}`,
      `search=size:%3E${20 + i}+${a}`,
      `search=hash:${(i * 4099 + 4096).toString(16)}`,
    ]),
  );
  const sorts = ['path', 'name', 'size', 'stored', 'kind', 'archive', 'modified', 'number'];
  await latencies(
    game.id,
    'first page of a folder in any order',
    words.flatMap((folderName) =>
      sorts.map((sort, i) => `folder=${folderName}%2F&sort=${sort}&order=${i % 2 ? 'down' : 'up'}`),
    ),
  );
  await latencies(
    game.id,
    'pages far down the whole list',
    Array.from(
      { length: 40 },
      (_, i) => `sort=${sorts[i % 8]}&offset=${((i * 24_971) % Number(entries)) - 0}`,
    ),
  );
  say(`${pad('memory of the serving process')} ${(memory() / 1e6).toFixed(0)} MB`);
  await api('DELETE', `games/${game.id}`);

  const nameless = path.join(work, 'nameless');
  const truth = path.join(work, 'names.txt');
  big(nameless, '100000', '50', ['--unnamed', '0.4', '--names', truth]);
  game = await api('POST', 'games', { title: 'Nameless', folder: nameless });
  await settled(game.id);
  const before = (await api('GET', `games/${game.id}/entries?search=is:unnamed`)).total;
  const began = performance.now();
  await api('POST', `games/${game.id}/jobs`, { kind: 'learn-names' });
  const learnt = await settled(game.id);
  if (learnt.state !== 'done') throw new Error(learnt.error);
  const real = new Set(fs.readFileSync(truth, 'utf8').split('\n'));
  const [list] = await api('GET', `games/${game.id}/names`);
  const text = await (
    await fetch(`${app.address}/api/games/${game.id}/names/${list.id}`, { headers: app.headers })
  ).text();
  const names = text.trim().split('\n');
  say(
    `${pad('names: 40 % withheld')} ${before} nameless, ${names.length} learnt, ${names.filter((name) => !real.has(name)).length} of them false, ${ms(performance.now() - began)}`,
  );
} finally {
  await app?.stop();
  fs.rmSync(work, { recursive: true, force: true });
}
process.exit(0);
