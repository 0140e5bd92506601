import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { writeHold, type HoldEntry } from '../../demo/world/hold-writer';
import { key } from '../core/testing/holds';

/** Large enough that threads take part; see WORTH_A_THREAD_BYTES. */
const COUNT = 400;
const SIZE = 100_000;
const BROKEN = [7, 222, 399];

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-threads-'));
const archive = path.join(folder, 'large.hold');
const body = (i: number): Buffer => Buffer.alloc(SIZE, `${i} of many, `);
afterAll(() => fs.rmSync(folder, { recursive: true, force: true }));

beforeAll(() => {
  const entries: HoldEntry[] = Array.from({ length: COUNT }, (_, i) => ({
    path: `d${i % 7}/f${i}.txt`,
    data: () => body(i),
    loose: true,
  }));
  writeHold(archive, entries, { key, roll: true, rank: 0, salt: Buffer.alloc(16, 2) });
});

const latch = (...args: string[]): ReturnType<typeof spawnSync> =>
  spawnSync('bin/latch', [...args, '--key', `game=${key.toString('hex')}`], { encoding: 'utf8' });

test('an extraction by several threads writes every file once, in order, and names the broken ones', () => {
  const listed = String(latch('entries', archive, '--json').stdout)
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as { path: string; offset: number });
  const damaged = fs.readFileSync(archive);
  for (const i of BROKEN) damaged[listed[i]!.offset + 500]! ^= 1;
  const file = path.join(folder, 'damaged.hold');
  fs.writeFileSync(file, damaged);
  const out = path.join(folder, 'out');
  const { status, stdout, stderr } = latch('extract', file, '--to', out);
  expect(status).toBe(1);
  const good = listed.filter((_, i) => !BROKEN.includes(i)).map((entry) => entry.path);
  expect(String(stdout).trim().split('\n')).toEqual(good);
  for (const i of BROKEN) expect(stderr).toContain(`f${i}.txt`);
  const found = fs.readdirSync(out, { recursive: true, encoding: 'utf8' });
  expect(found.filter((name) => name.endsWith('.txt')).sort()).toEqual([...good].sort());
  expect(found.filter((name) => name.includes('.part'))).toEqual([]);
  const hash = (bytes: Buffer): string => createHash('md5').update(bytes).digest('hex');
  for (const [i, { path: name }] of listed.entries())
    if (!BROKEN.includes(i)) expect(hash(fs.readFileSync(path.join(out, name)))).toBe(hash(body(i)));
}, 60_000);

test('a full disk ends all threads with one message and no half file', () => {
  const out = path.join(folder, 'full');
  const shell = `ulimit -f 60; bin/latch extract ${archive} --to ${out} --key game=${key.toString('hex')}`;
  const { status, stderr } = spawnSync('bash', ['-c', shell], { encoding: 'utf8' });
  expect(status).toBe(1);
  expect(stderr).toMatch(/EFBIG|too large/);
  expect(
    fs.readdirSync(out, { recursive: true }).filter((name) => /\.(txt|part)$/.test(String(name))),
  ).toEqual([]);
}, 60_000);

describe('entries of one deflate stream, which a thread unpacks without the archive', () => {
  const zip = path.join(folder, 'many.zip');
  const made = path.join(folder, 'made');
  const unzip = (...args: string[]): ReturnType<typeof spawnSync> =>
    spawnSync('unzip', args, { encoding: 'utf8' });

  beforeAll(() => {
    for (let i = 0; i < 300; i++) {
      fs.mkdirSync(path.join(made, `d${i % 5}`), { recursive: true });
      fs.writeFileSync(
        path.join(made, `d${i % 5}`, `f${i}.bin`),
        Buffer.alloc(i === 0 ? 0 : 120_000 + i, `${i}, `),
      );
    }
    expect(spawnSync('zip', ['-qr', zip, '.'], { cwd: made }).status).toBe(0);
  });

  test.each(['a new folder', 'an empty folder', 'a folder with something in it'])(
    'come out the same in %s',
    (where) => {
      const out = path.join(folder, where);
      if (where !== 'a new folder') fs.mkdirSync(out);
      if (where.includes('something')) fs.writeFileSync(path.join(out, 'mine.txt'), 'mine');
      const { status, stdout } = spawnSync('bin/latch', ['extract', zip, '--to', out], { encoding: 'utf8' });
      expect(status).toBe(0);
      expect(stdout.trim().split('\n')).toHaveLength(300);
      const { stdout: differences } = spawnSync('diff', ['-r', made, out], { encoding: 'utf8' });
      expect(differences).toBe(where.includes('something') ? `Only in ${out}: mine.txt\n` : '');
      expect(fs.readdirSync(out).filter((name) => name.startsWith('.'))).toEqual([]);
      expect(fs.readdirSync(folder).filter((name) => name.startsWith('.zero-latch'))).toEqual([]);
    },
  );

  test('a second time nothing is written over', () => {
    const out = path.join(folder, 'a new folder');
    fs.writeFileSync(path.join(out, 'd1/f1.bin'), 'edited');
    const { status, stderr } = spawnSync('bin/latch', ['extract', zip, '--to', out], { encoding: 'utf8' });
    expect(status).toBe(1);
    expect(stderr).toContain('d1/f1.bin');
    expect(fs.readFileSync(path.join(out, 'd1/f1.bin'), 'utf8')).toBe('edited');
  });

  test('damaged ones are told as by those who have the archive open, and leave no file', () => {
    const listed = spawnSync('bin/latch', ['entries', zip, '--json'], { encoding: 'utf8' })
      .stdout.trim()
      .split('\n')
      .map(
        (line) => JSON.parse(line) as { path: string; offset: number; storedSize: number; stored: number },
      );
    const bytes = fs.readFileSync(zip);
    const broken = listed.filter(({ path: name }) => /f(17|200)\.bin$/.test(name));
    // The check sum of one no longer fits, in neither of its places; the stream of the other breaks off.
    for (const [i, { path: name }] of broken.entries()) {
      if (i === 0) {
        bytes[bytes.indexOf(name) - 16]! ^= 1;
        bytes[bytes.lastIndexOf(name) - 30]! ^= 1;
      } else bytes.fill(0xff, broken[i]!.offset + 20, broken[i]!.offset + 40);
    }
    const file = path.join(folder, 'damaged.zip');
    fs.writeFileSync(file, bytes);
    const out = path.join(folder, 'damaged');
    const { status, stderr } = spawnSync('bin/latch', ['extract', file, '--to', out], { encoding: 'utf8' });
    expect(status).toBe(1);
    for (const { path: name } of broken) expect(stderr).toContain(name);
    expect(String(unzip('-tq', file).stdout)).toMatch(/bad CRC|invalid compressed data/);
    const found = fs
      .readdirSync(out, { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.bin'));
    expect(found).toHaveLength(300 - broken.length);
  });
});
