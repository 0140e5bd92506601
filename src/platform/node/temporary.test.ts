import { expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { makeTemporary, sweepTemporary } from './temporary';

test('what a killed process left is removed, what one that lives has is not', () => {
  const { pid } = spawnSync(process.execPath, ['-e', '']);
  const left = path.join(os.tmpdir(), `zero-latch-work-${pid}-left`);
  fs.mkdirSync(left);
  fs.writeFileSync(path.join(left, '0.wav'), 'x');
  const elsewhere = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-kept-'));
  fs.writeFileSync(path.join(elsewhere, 'kept'), 'x');
  const link = path.join(os.tmpdir(), `zero-latch-work-${pid}-link`);
  fs.symlinkSync(elsewhere, link);
  const own = makeTemporary();
  try {
    expect(sweepTemporary()).toBeGreaterThanOrEqual(1);
    expect([left, own, path.join(elsewhere, 'kept')].map((one) => fs.existsSync(one))).toEqual([
      false,
      true,
      true,
    ]);
  } finally {
    for (const one of [own, elsewhere, link]) fs.rmSync(one, { recursive: true, force: true });
  }
});
