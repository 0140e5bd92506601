import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FormatError } from '@/core/bytes';
import type { Cell } from '../cell';
import { parseVocabulary, readSteps, stepAt, withStepNumbers } from './index';

const words = (order: string) =>
  parseVocabulary(`words for: scenes.steps
byte order: ${order}
code: u8
words:
  1: { called: comes, with: { who: u16 people, to: i8, far: u32 }, says: '{who} to {to}, {far}' }
  2: { called: waits, with: { days: i32 }, says: '{days}' }
  0: { called: ends, says: 'ends' }
`);
const little = words('little');
const bytes = Uint8Array.from([1, 0x2c, 1, 0xff, 1, 0, 0, 0, 2, 0xfe, 0xff, 0xff, 0xff, 0]);

describe('numbers of a step', () => {
  test('are written in their places and sizes, and nothing else is', () => {
    const made = withStepNumbers(bytes, little, 0, [0x0102, -128, 0xfffffffe]) as Uint8Array;
    expect([...made]).toEqual([1, 2, 1, 0x80, 0xfe, 0xff, 0xff, 0xff, 2, 0xfe, 0xff, 0xff, 0xff, 0]);
    expect([...(withStepNumbers(bytes, little, 8, [-1]) as Uint8Array).subarray(8)]).toEqual([
      2, 255, 255, 255, 255, 0,
    ]);
    expect(bytes[1]).toBe(0x2c);
    const big = words('big');
    const turned = Uint8Array.from([1, 1, 0x2c, 0, 0, 0, 0, 9]);
    expect([...(withStepNumbers(turned, big, 0, [2, 1, 256]) as Uint8Array)]).toEqual([
      1, 0, 2, 1, 0, 0, 1, 0,
    ]);
  });

  test('of lists are written in lists, with what stands behind them', () => {
    const list: Cell = [[1, 300, -1, 5, 'a note'], [0]];
    expect(withStepNumbers(list, little, 0, [301, 2, 70])).toEqual([[1, 301, 2, 70, 'a note'], [0]]);
    expect(list).toEqual([[1, 300, -1, 5, 'a note'], [0]]);
  });

  test.each<readonly [string, number, readonly number[], string]>([
    ['where no step begins', 3, [1], 'none that begins there'],
    ['of another count', 0, [1], '1 numbers'],
    ['that are too large', 0, [70_000, 0, 0], 'who from 0 to 65535'],
    ['below what they can be', 0, [1, -129, 0], 'to from -128 to 127'],
    ['with a fraction', 8, [1.5], 'days from -2147483648 to 2147483647'],
  ])('%s are refused', (_, at, values, said) => {
    expect(() => withStepNumbers(bytes, little, at, values)).toThrow(FormatError);
    expect(() => withStepNumbers(bytes, little, at, values)).toThrow(said);
  });

  test('are not there of a step that is cut off or has no word', () => {
    expect(stepAt(bytes.subarray(0, 5), little, 0)).toBeUndefined();
    expect(stepAt(Uint8Array.of(9), little, 0)).toBeUndefined();
    expect(stepAt('text', little, 0)).toBeUndefined();
    expect(stepAt(undefined, little, 0)).toBeUndefined();
  });

  test('are read as they were written, whatever they are', () => {
    const numbers = fc.tuple(
      fc.integer({ min: 0, max: 0xffff }),
      fc.integer({ min: -128, max: 127 }),
      fc.integer({ min: 0, max: 0xffffffff }),
    );
    fc.assert(
      fc.property(numbers, fc.constantFrom('little', 'big'), (values, order) => {
        const own = words(order);
        const steps = readSteps(withStepNumbers(bytes, own, 0, values), own);
        expect(steps[0]!.values).toEqual(values);
        expect(steps.slice(1)).toEqual(readSteps(bytes, own).slice(1));
      }),
    );
  });
});
