import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { interleaved, MB, timed } from './measure';
import { makeEncrypted, makeSample, makeZip } from './samples';

/**
 * Extraction of deflated and encrypted archives, and rewriting and proving one of 2 GiB, each in turn with the usual
 * tools: npm run bench:extract [-- small]
 */
const small = process.argv.includes('small');
const root = path.resolve(import.meta.dirname, '..');
const latch = path.join(root, 'bin', 'latch');
const ROUNDS = 3;
const work = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-bench-'));

function clean(folder: string): string {
  fs.rmSync(folder, { recursive: true, force: true });
  fs.mkdirSync(folder, { recursive: true });
  return folder;
}

function row(what: string, result: ReturnType<typeof interleaved>, aim: string): void {
  const { baseline, ours, ratio } = result;
  process.stdout.write(
    `| ${what} | ${baseline.seconds.toFixed(2)} s | ${ours.seconds.toFixed(2)} s | **${ratio.toFixed(2)}** | ${aim} | ${MB(ours.peak)} |\n`,
  );
}

function deflated(): void {
  const count = small ? 300 : 3000;
  const zip = makeZip(work, count, 300_000);
  const result = interleaved(
    ROUNDS,
    () => timed('unzip', ['-q', zip, '-d', clean(path.join(work, 'out'))]),
    () => timed(latch, ['extract', zip, '--to', clean(path.join(work, 'out'))]),
  );
  row(
    `extract a deflated ZIP of ${count} files, ${MB(count * 300_000)}, against \`unzip\``,
    result,
    'at most 0.8',
  );
  fs.rmSync(zip);
}

function encrypted(): void {
  const count = small ? 100 : 1000;
  const size = 1 << 20;
  const { archive, script, hex, plainTool, encryptedFile } = makeEncrypted(work, count, size);
  const cipher = plainTool;
  const inflate = spawnSync('pigz', ['--version']).status === 0 ? 'pigz' : 'gzip';
  const result = interleaved(
    ROUNDS,
    () => {
      clean(path.join(work, 'out'));
      return timed('sh', [
        '-c',
        `${cipher} -d -in ${encryptedFile} | ${inflate} -d > ${path.join(work, 'out', 'one')}`,
      ]);
    },
    () =>
      timed(latch, [
        ...['extract', archive, '--script', script, '--key', `game=${hex}`],
        ...['--to', clean(path.join(work, 'out'))],
      ]),
  );
  row(
    `extract AES-256-CTR over deflate, ${MB(count * size)} in ${count} files, against \`openssl enc -d | ${inflate} -d\` into one`,
    result,
    'at most 1.0',
  );
  for (const file of [archive, encryptedFile]) fs.rmSync(file);
  fs.rmSync(path.join(work, 'out'), { recursive: true });
}

function large(): void {
  const count = small ? 2000 : 20_000;
  const folder = clean(path.join(work, 'large'));
  const sample = makeSample(folder, count, 107_374);
  spawnSync('tar', ['-cf', sample.tar, '-C', path.join(folder, 'files'), '.']);
  fs.rmSync(path.join(folder, 'files'), { recursive: true });
  const out = path.join(work, 'out');
  row(
    `extract ${count} plain files, ${MB(sample.bytes)}, against \`tar -xf\``,
    interleaved(
      ROUNDS,
      () => timed('tar', ['-xf', sample.tar, '-C', clean(out)]),
      () => timed(latch, ['extract', sample.hold, '--to', clean(out)]),
    ),
    'at most 1.0',
  );
  fs.rmSync(out, { recursive: true, force: true });
  fs.rmSync(sample.tar);
  const change = path.join(work, 'change.bin');
  fs.writeFileSync(change, Buffer.alloc(200_000, 'changed'));
  const target = path.join(work, 'new.hold');
  const copy = (): ReturnType<typeof timed> => {
    fs.rmSync(target, { force: true });
    return timed('cp', [sample.hold, target]);
  };
  row(
    'rewrite it with one entry changed, against `cp`',
    interleaved(ROUNDS, copy, () => {
      fs.rmSync(target, { force: true });
      return timed(latch, [
        'repack',
        sample.hold,
        '--change',
        `${sample.oneEntry}=${change}`,
        '--to',
        target,
      ]);
    }),
    'at most 2',
  );
  row(
    'prove it, against `cp`',
    interleaved(ROUNDS, copy, () => timed(latch, ['prove', sample.hold])),
    'at most 3',
  );
}

try {
  process.stdout.write('| what | baseline | ours | ratio | aim | peak memory |\n|---|---|---|---|---|---|\n');
  deflated();
  encrypted();
  large();
} finally {
  fs.rmSync(work, { recursive: true, force: true });
}
