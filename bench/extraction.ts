import { spawnSync } from 'node:child_process';
import { createCipheriv } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import zlib from 'node:zlib';
import { interleaved, MB, timed } from './measure';
import { makeSample } from './samples';

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

/** Words of this repository in another order for each file: packs to about two fifths. */
function texts(count: number, size: number): (index: number) => Buffer {
  const words = fs.readFileSync(path.join(root, 'docs', 'format-scripts.md'), 'utf8').split(/\s+/);
  let state = 1;
  const random = (): number => {
    state = (Math.imul(state, 1103515245) + 12345) >>> 0;
    return state / 2 ** 32;
  };
  let base = '';
  while (base.length < 10 * size)
    base += `${words[Math.floor(random() * words.length)]} ${random() < 0.1 ? random() : ''}`;
  const starts = Array.from({ length: count }, () => Math.floor(random() * 8.9 * size));
  return (index) => Buffer.from(base.slice(starts[index], starts[index]! + size), 'latin1');
}

function deflated(): void {
  const count = small ? 300 : 3000;
  const data = texts(count, 300_000);
  const files = clean(path.join(work, 'files'));
  for (let i = 0; i < count; i++) {
    fs.mkdirSync(path.join(files, `d${i % 30}`), { recursive: true });
    fs.writeFileSync(path.join(files, `d${i % 30}`, `f${i}.txt`), data(i));
  }
  const zip = path.join(work, 'sample.zip');
  spawnSync('zip', ['-q', '-r', '-1', zip, '.'], { cwd: files });
  fs.rmSync(files, { recursive: true });
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

const ENCRYPTED = `
format script: 1
title: Encrypted
recognise: [{ at: 0, text: ENCR }]
keys: { game: { bytes: 32 } }
records:
  head: { tag: text(4), count: { type: u32, derived: count(rows) }, rows: { type: row, count: count } }
  row:
    at: { type: u64, derived: place(payload) }
    size: { type: u32, derived: size(plain(payload)) }
    stored: { type: u32, derived: size(payload) }
    iv: bytes(16)
parts: { head: { type: head, at: 0 } }
entries:
  each: head.rows
  size: size
  payload: { at: at, size: stored, seal: [{ aes-ctr: { key: key.game, iv: iv } }, { deflate: { size: size } }] }
`;

function encrypted(): void {
  const count = small ? 100 : 1000;
  const size = 1 << 20;
  const data = texts(count, size);
  const key = Buffer.alloc(32, 'key');
  const packed = Array.from({ length: count }, (_, i) => zlib.deflateRawSync(data(i), { level: 1 }));
  const table = Buffer.alloc(8 + 32 * count);
  table.write('ENCR');
  table.writeUInt32LE(count, 4);
  let at = table.length;
  packed.forEach((bytes, i) => {
    const row = 8 + 32 * i;
    table.writeBigUInt64LE(BigInt(at), row);
    table.writeUInt32LE(size, row + 8);
    table.writeUInt32LE(bytes.length, row + 12);
    table.writeUInt32LE(i, row + 16);
    at += bytes.length;
  });
  const archive = path.join(work, 'sample.encr');
  const script = path.join(work, 'encr.yaml');
  fs.writeFileSync(script, ENCRYPTED);
  const fd = fs.openSync(archive, 'w');
  fs.writeSync(fd, table);
  packed.forEach((bytes, i) => {
    fs.writeSync(
      fd,
      createCipheriv('aes-256-ctr', key, table.subarray(24 + 32 * i, 40 + 32 * i)).update(bytes),
    );
  });
  fs.closeSync(fd);
  // For the tools the same texts as one gzip stream in one encrypted file.
  const one = path.join(work, 'one.txt');
  for (let i = 0; i < count; i++) fs.appendFileSync(one, data(i));
  const encryptedFile = path.join(work, 'one.gz.enc');
  const hex = key.toString('hex');
  const cipher = `openssl enc -aes-256-ctr -K ${hex} -iv ${'0'.repeat(32)}`;
  spawnSync('sh', ['-c', `gzip -1 < ${one} | ${cipher} -out ${encryptedFile}`]);
  fs.rmSync(one);
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
