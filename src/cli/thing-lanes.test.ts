import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { writeHold } from '../../demo/world/hold-writer';
import { masked } from '../../demo/world/quillmoor/mask';
import { key } from '../core/testing/holds';

/** Enough files that threads take part; see BYTES_A_FILE. */
const COUNT = 60;
const SEED = 0x01020304;
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-lanes-'));
const at = (name: string): string => path.join(folder, name);
const name = (i: number): string => `bell_${String(i).padStart(3, '0')}`;
const things = ['near', 'far'].flatMap((where) =>
  Array.from({ length: COUNT }, (_, i) => at(`${where}/${name(i)}.note`)),
);

beforeAll(() => {
  for (const file of things) {
    const where = path.basename(path.dirname(file));
    fs.mkdirSync(path.dirname(file), { recursive: true });
    // Of different lengths, so that threads come to their ends in another order than they began.
    const text = `RIFF ${where} `.padEnd(20 + ((things.indexOf(file) * 7919) % 60_000), where);
    fs.writeFileSync(file, masked(Buffer.from(text), path.basename(file), SEED));
  }
  const entries = [{ path: 'a.txt', data: () => Buffer.from('in an archive'), loose: true }];
  writeHold(at('some.hold'), entries, { key, roll: true, rank: 0, salt: Buffer.alloc(16, 2) });
  fs.writeFileSync(at('cut.hold'), fs.readFileSync(at('some.hold')).subarray(0, 30));
}, 60_000);
afterAll(() => fs.rmSync(folder, { recursive: true, force: true }));

const latch = (...args: string[]) =>
  spawnSync('bin/latch', [...args, '--key', 'project=04030201', '--key', `game=${key.toString('hex')}`], {
    encoding: 'utf8',
  });
const lines = (text: string): string[] => text.trim().split('\n');
const expected = ['', '~2'].flatMap((number) =>
  Array.from({ length: COUNT }, (_, i) => `${name(i)}${number}.wav`),
);
const begins = (file: string): string => fs.readFileSync(file, 'latin1').slice(0, 9).trim();

test('many things come out in the order in which they were named, under the same names each time, whichever thread is faster', () => {
  for (const out of ['first', 'second'].map(at)) {
    const { status, stdout, stderr } = latch('extract', ...things, '--to', out);
    expect([status, stderr]).toEqual([0, '']);
    expect(lines(stdout)).toEqual(expected);
    expect(fs.readdirSync(out).sort()).toEqual([...expected].sort());
    for (const [i, file] of expected.entries()) {
      expect(begins(path.join(out, file))).toBe(i < COUNT ? 'RIFF near' : 'RIFF far');
      expect(fs.statSync(path.join(out, file)).size).toBe(fs.statSync(things[i]!).size);
    }
  }
}, 60_000);

test('archives among them get folders of their own, broken ones are told in their place', () => {
  const paths = [...things.slice(0, 50), at('some.hold'), at('cut.hold'), ...things.slice(50, 100)];
  const { status, stdout, stderr } = latch('extract', ...paths, '--to', at('mixed'), '--json');
  expect(status).toBe(1);
  expect(lines(stderr)).toHaveLength(1);
  expect(stderr).toContain('cut.hold');
  const files = lines(stdout).map((line) => (JSON.parse(line) as { file: string }).file);
  expect(files).toHaveLength(101);
  expect(files[50]).toBe('some.hold/a.txt');
  expect(fs.readFileSync(at('mixed/some.hold/a.txt'), 'utf8')).toBe('in an archive');
}, 60_000);

test('only those that are asked for are written, and none over a file that stands there', () => {
  const out = at('some');
  fs.mkdirSync(out);
  fs.writeFileSync(path.join(out, `${name(7)}.wav`), 'mine');
  const asked = [
    'extract',
    ...things.slice(0, COUNT),
    ...things.slice(0, COUNT),
    '--match',
    '*7.wav',
    '--to',
    out,
  ];
  const { status, stdout, stderr } = latch(...asked);
  expect(status).toBe(1);
  expect(lines(stderr)).toEqual([expect.stringContaining(`${name(7)}.wav`)]);
  expect(fs.readFileSync(path.join(out, `${name(7)}.wav`), 'utf8')).toBe('mine');
  expect(lines(stdout)).toHaveLength(11);
  expect(latch(...asked, '--overwrite').status).toBe(0);
  expect(begins(path.join(out, `${name(7)}.wav`))).toBe('RIFF near');
  expect(latch('extract', ...things, '--match', '*.ogg', '--to', at('none')).status).toBe(2);
}, 60_000);

test('a file that is not there ends it before anything is written', () => {
  const { status, stderr } = latch('extract', ...things.slice(0, 99), at('gone.note'), '--to', at('gone'));
  expect(status).toBe(2);
  expect(stderr).toContain('gone.note');
});

test('a full disk ends all threads with one message and no half file', () => {
  const shell = `ulimit -f 40; bin/latch extract ${folder}/near/*.note ${folder}/far/*.note --to ${at('full')} --key project=04030201`;
  const { status, stderr } = spawnSync('bash', ['-c', shell], { encoding: 'utf8' });
  expect(status).toBe(1);
  expect(stderr).toMatch(/EFBIG|too large/);
  expect(lines(stderr)).toHaveLength(1);
  const found = fs.readdirSync(at('full'));
  expect(found.filter((one) => one.includes('.part'))).toEqual([]);
  for (const one of found) expect(fs.statSync(path.join(at('full'), one)).size).toBeGreaterThan(8);
}, 60_000);
