import { afterAll, beforeAll, expect, test } from '@jest/globals';
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
