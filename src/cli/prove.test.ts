import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-prove-'));
afterAll(() => fs.rmSync(folder, { recursive: true, force: true }));
const zip = path.join(folder, 'two.zip');
beforeAll(() => {
  for (const name of ['one.txt', 'two.txt'])
    fs.writeFileSync(path.join(folder, name), `${name} `.repeat(200));
  expect(spawnSync('zip', ['-q', 'two.zip', 'one.txt', 'two.txt'], { cwd: folder }).status).toBe(0);
});

const prove = (bytes: Buffer): { status: number | null; said: string } => {
  const file = path.join(folder, 'tried.zip');
  fs.writeFileSync(file, bytes);
  const { status, stdout, stderr } = spawnSync('bin/latch', ['prove', file], { encoding: 'utf8' });
  return { status, said: stdout + stderr };
};

test('a ZIP whose two records of a member agree is proved', () =>
  expect(prove(fs.readFileSync(zip))).toMatchObject({ status: 0 }));

test.each([
  ['name', (bytes: Buffer, at: number) => bytes.write('one.exe', at), 'locals[0].name'],
  ['method', (bytes: Buffer, at: number) => bytes.writeUInt16LE(0, at - 22), 'locals[0].method'],
  ['size', (bytes: Buffer, at: number) => bytes.writeUInt32LE(7, at - 8), 'locals[0].size'],
])('one whose records differ in the %s is not', (_what, change, field) => {
  const bytes = fs.readFileSync(zip);
  change(bytes, bytes.indexOf('one.txt'));
  const { status, said } = prove(bytes);
  expect(status).toBe(1);
  expect(said).toContain(field);
});
