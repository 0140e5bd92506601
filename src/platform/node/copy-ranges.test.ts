import { afterAll, describe, expect, test } from '@jest/globals';
import { randomFillSync } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { copyRanges, type CopyRange } from './copy-ranges';

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-copy-'));
afterAll(() => fs.rmSync(folder, { recursive: true }));
const at = (name: string): string => path.join(folder, name);

/** More than is left to one thread, and no multiple of a piece. */
const LARGE = (80 << 20) + 12_345;
const source = randomFillSync(Buffer.alloc(LARGE));
fs.writeFileSync(at('source'), source);

function withFiles<T>(name: string, work: (from: number, to: number) => T): T {
  const from = fs.openSync(at('source'), 'r');
  const to = fs.openSync(at(name), 'w+');
  try {
    return work(from, to);
  } finally {
    fs.closeSync(from);
    fs.closeSync(to);
  }
}

const ranges: CopyRange[] = [
  { from: 0, to: 100, length: 40 << 20 },
  { from: 40 << 20, to: (40 << 20) + 777, length: LARGE - (40 << 20) },
];

describe('copying ranges from file to file', () => {
  test('by two threads, with progress to the end, while something else is written', () => {
    const seen: number[] = [];
    withFiles('copied', (from, to) =>
      copyRanges(from, to, ranges, {
        meanwhile: () => void fs.writeSync(to, Buffer.alloc(100, 1), 0, 100, 0),
        progress: (done) => void seen.push(done),
      }),
    );
    const copied = fs.readFileSync(at('copied'));
    expect(copied.subarray(0, 100).equals(Buffer.alloc(100, 1))).toBe(true);
    for (const { from, to, length } of ranges)
      expect(copied.subarray(to, to + length).equals(source.subarray(from, from + length))).toBe(true);
    expect(copied).toHaveLength(LARGE + 777);
    expect([...seen].sort((a, b) => a - b)).toEqual(seen);
    expect(seen.at(-1)).toBeLessThanOrEqual(LARGE);
  });

  test('a stop from the progress leaves nothing under way', () => {
    withFiles('stopped', (from, to) => {
      expect(() =>
        copyRanges(from, to, ranges, {
          progress: () => {
            throw new Error('enough');
          },
        }),
      ).toThrow('enough');
      // Nobody writes any more: what is cut off now stays cut off.
      fs.ftruncateSync(to, 0);
      for (const until = Date.now() + 200; Date.now() < until;) expect(fs.fstatSync(to).size).toBe(0);
    });
  });

  test('a source that ends too early is told, whichever thread finds it', () => {
    withFiles('short', (from, to) => {
      const beyond = [...ranges, { from: LARGE - 10, to: LARGE + 777, length: 20 }];
      expect(() => copyRanges(from, to, beyond)).toThrow('the source became shorter while it was copied');
    });
  });

  test('a target that takes nothing is told in the words of the system', () => {
    const from = fs.openSync(at('source'), 'r');
    try {
      expect(() => copyRanges(from, from, ranges)).toThrow(/EBADF/);
    } finally {
      fs.closeSync(from);
    }
  });

  test('a little is copied without a thread', () => {
    withFiles('little', (from, to) => copyRanges(from, to, [{ from: 5, to: 0, length: 10 }]));
    expect(fs.readFileSync(at('little')).equals(source.subarray(5, 15))).toBe(true);
  });
});
