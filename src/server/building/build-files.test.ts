import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fc from 'fast-check';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { buildFile } from './build-files';

const storage = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-builds-'));
const before = process.env.ZERO_LATCH_STORAGE;
beforeAll(() => void (process.env.ZERO_LATCH_STORAGE = storage));
afterAll(() => {
  fs.rmSync(storage, { recursive: true, force: true });
  if (before === undefined) delete process.env.ZERO_LATCH_STORAGE;
  else process.env.ZERO_LATCH_STORAGE = before;
});

const names = fc.array(fc.constantFrom('a', 'b', '/', '_', '__', '.zip', 'ß', 'x'.repeat(120)), {
  minLength: 1,
});

test('no two archives of a build share a file, and every name can be had', () => {
  expect(buildFile(1, 'sub/a.zip')).not.toBe(buildFile(1, 'sub__a.zip'));
  fc.assert(
    fc.property(names, names, (one, other) => {
      const [a, b] = [one.join(''), other.join('')];
      expect(buildFile(1, a) === buildFile(1, b)).toBe(a === b);
      expect(Buffer.byteLength(path.basename(buildFile(1, a)))).toBeLessThan(220);
      fs.writeFileSync(buildFile(1, a), '');
    }),
  );
});

test('what an earlier version has built is found', () => {
  const folder = path.join(storage, 'builds', '2');
  fs.mkdirSync(folder, { recursive: true });
  fs.writeFileSync(path.join(folder, 'sub__a.zip'), '');
  expect(buildFile(2, 'sub/a.zip')).toBe(path.join(folder, 'sub__a.zip'));
  expect(path.dirname(buildFile(2, 'sub/b.zip'))).toBe(path.join(folder, 'files'));
});
