import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { FilmMark } from './marks';
import { nextKey } from './add-text';
import { marksWith } from './put-marks';

const written = { units: 1000, word: 'say' };
const marks: FilmMark[] = [
  { seconds: 1, text: 'night' },
  { seconds: 2.5, text: 'say a.one 1500' },
  { seconds: 6, text: 'say a.one 1000' },
];

describe('marks with one of them changed', () => {
  test('moved, renamed, added, taken out', () => {
    expect(
      marksWith(marks, { was: marks[0]!, now: { seconds: 3, text: 'night' } }, written)[0]!.seconds,
    ).toBe(3);
    expect(marksWith(marks, { was: marks[0]!, now: null }, written)).toEqual(marks.slice(1));
    expect(marksWith(marks, { was: null, now: { seconds: 9, text: '' } }, written)).toHaveLength(4);
  });

  test('when a text is shown: of one that is shown twice, the one that is meant', () => {
    const made = marksWith(marks, { key: 'a.one', was: 6, from: 7, to: 7.25 }, written);
    expect(made.map(({ text }) => text)).toEqual(['night', 'say a.one 1500', 'say a.one 250']);
    expect(made[2]!.seconds).toBe(7);
    // None is shown for no time at all.
    expect(marksWith(marks, { key: 'a.one', was: 6, from: 7, to: 7.0001 }, written)[2]!.text).toBe(
      'say a.one 1',
    );
  });

  test('a text that is shown from now on, and one that is not any more', () => {
    const made = marksWith(marks, { word: 'say', key: 'a.two', from: 4, to: 5.5 }, written);
    expect(made.at(-1)).toEqual({ seconds: 4, text: 'say a.two 1500' });
    expect(marksWith(marks, { key: 'a.one', was: 2.5, isGone: true }, written)).toEqual([marks[0], marks[2]]);
  });

  test.each([
    [['a.one', 'a.two'], [], 'a.two_2'],
    [['opening.08', 'opening.09'], [], 'opening.10'],
    [['x1', 'x2'], ['x3', 'x4'], 'x5'],
    [[], [], 'text_2'],
  ])('behind %j and beside %j comes %s', (keys, taken, fresh) => {
    expect(nextKey(keys, (key) => taken.includes(key as never))).toBe(fresh);
  });

  test.each([
    ['moved by somebody else', { was: { seconds: 1.001, text: 'night' }, now: null }],
    ['renamed', { was: { seconds: 1, text: 'nights' }, now: null }],
    ['no text there', { key: 'a.one', was: 1, from: 1, to: 2 }],
    ['another key', { key: 'night', was: 1, from: 1, to: 2 }],
  ] as const)('%s: refused', (_what, change) => {
    expect(() => marksWith(marks, change, written)).toThrow('changed meanwhile');
  });

  test('times that were read come back as they were written, in any unit', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 96_000 }),
        fc.integer({ min: 0, max: 10 ** 9 }),
        (units, time) => {
          const mark = { seconds: time / units, text: 'x' };
          const [made] = marksWith(
            [mark],
            { was: mark, now: { ...mark, text: 'y' } },
            { units, word: undefined },
          );
          expect(Math.round(made!.seconds * units)).toBe(time);
        },
      ),
    );
  });
});
