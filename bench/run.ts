import { spawn, spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { enter } from '../bin/lib/enter.mjs';
import { interleaved, MB, timed, type Run } from './measure';
import { makeSample, type Sample } from './samples';

/** `npm run bench` measures everything; `npm run bench -- small` a tenth, to see that it works. */
const small = process.argv.includes('small');
const withStart = !process.argv.includes('nostart');
const root = path.resolve(import.meta.dirname, '..');
const latch = path.join(root, 'bin', 'latch');
const lines: string[] = [];
const say = (line: string): void => {
  process.stdout.write(`${line}\n`);
  lines.push(line);
};

const FILE = 256 * 1024;
const GIB = small ? 400 : 4096;
const ROUNDS = 3;

function clean(folder: string): string {
  fs.rmSync(folder, { recursive: true, force: true });
  fs.mkdirSync(folder, { recursive: true });
  return folder;
}

function extraction(sample: Sample, work: string, rounds: number): ReturnType<typeof interleaved> {
  return interleaved(
    rounds,
    () => timed('tar', ['-xf', sample.tar, '-C', clean(path.join(work, 'tar-out'))]),
    () => timed(latch, ['extract', sample.hold, '--to', clean(path.join(work, 'latch-out'))]),
  );
}

function repacking(sample: Sample, work: string, rounds: number): ReturnType<typeof interleaved> {
  const change = path.join(work, 'change.bin');
  fs.writeFileSync(change, Buffer.alloc(300_000, 'changed'));
  const target = path.join(work, 'new.hold');
  return interleaved(
    rounds,
    () => {
      fs.rmSync(target, { force: true });
      return timed('cp', [sample.hold, target]);
    },
    (): Run => {
      fs.rmSync(target, { force: true });
      return timed(latch, [
        'repack',
        sample.hold,
        '--change',
        `${sample.oneEntry}=${change}`,
        '--to',
        target,
      ]);
    },
  );
}

function row(what: string, { baseline, ours, ratio }: ReturnType<typeof interleaved>, aim: string): void {
  say(
    `| ${what} | ${baseline.seconds.toFixed(2)} s | ${ours.seconds.toFixed(2)} s | **${ratio.toFixed(2)}** | ${aim} | ${MB(ours.peak)} |`,
  );
}

/** Time from the command to the first page with the database behind it, on a machine where all is prepared. */
async function startTime(): Promise<number> {
  const data = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-bench-start-'));
  fs.chmodSync(data, 0o755);
  const once = async (): Promise<number> => {
    const began = performance.now();
    const child = spawn(path.join(root, 'bin', 'start'), {
      stdio: ['ignore', 'ignore', 'pipe'],
      env: { ...process.env, ZERO_LATCH_DATA: data, PORT: '4800' },
    });
    const entrance = await new Promise<string>((resolve, reject) => {
      let text = '';
      child.stderr.on('data', (piece: Buffer) => {
        text += piece.toString();
        const found = /ready after .*(http:\S+)/.exec(text)?.[1];
        if (found) resolve(found);
      });
      child.once('exit', () => reject(new Error(text)));
    });
    const { address, headers } = await enter(entrance);
    for (const page of ['/', '/api/games'])
      if (!(await fetch(address + page, { headers })).ok) throw new Error(`${page} does not answer`);
    const seconds = (performance.now() - began) / 1000;
    child.removeAllListeners('exit');
    child.kill('SIGINT');
    await new Promise((resolve) => child.once('exit', resolve));
    return seconds;
  };
  await once();
  const second = [await once(), await once(), await once()].sort((a, b) => a - b)[1]!;
  fs.rmSync(data, { recursive: true, force: true });
  return second;
}

const work = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-bench-'));
try {
  say(
    `Measured on ${new Date().toISOString().slice(0, 10)}: ${os.cpus().length} cores, Node ${process.version}, ${ROUNDS} rounds in turn with the baseline, medians.`,
  );
  say('');
  say('| what | baseline | ours | ratio | aim | peak memory |');
  say('|---|---|---|---|---|---|');
  const one = makeSample(clean(path.join(work, 'one')), GIB, FILE);
  spawnSync('tar', ['-cf', one.tar, '-C', path.join(work, 'one', 'files'), '.']);
  fs.rmSync(path.join(work, 'one', 'files'), { recursive: true });
  row(
    `extract an open hold of ${MB(one.bytes)} in ${GIB} files, against \`tar -xf\``,
    extraction(one, work, ROUNDS),
    'at most 1.5',
  );
  row(`repack it with one change, against \`cp\``, repacking(one, work, ROUNDS), 'at most 4');
  for (const place of ['one', 'tar-out', 'latch-out'])
    fs.rmSync(path.join(work, place), { recursive: true, force: true });
  if (!small) {
    const four = makeSample(clean(path.join(work, 'four')), 4 * GIB, FILE);
    spawnSync('tar', ['-cf', four.tar, '-C', path.join(work, 'four', 'files'), '.']);
    fs.rmSync(path.join(work, 'four', 'files'), { recursive: true });
    row(`extract ${MB(four.bytes)} in ${4 * GIB} files`, extraction(four, work, 1), 'memory as above');
    for (const place of ['tar-out', 'latch-out'])
      fs.rmSync(path.join(work, place), { recursive: true, force: true });
    row('repack it with one change', repacking(four, work, 1), 'memory as above');
  }
  if (withStart) {
    say('');
    say(
      `\`bin/start\` on a prepared machine to the first page and its data: **${(await startTime()).toFixed(1)} s** (aim: under 10 s).`,
    );
  }
} finally {
  fs.rmSync(work, { recursive: true, force: true });
}
