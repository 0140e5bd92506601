import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { Catalogue } from './catalogue';
import { findRows, pageOf, placeOf } from './find';
import { ListingBuilder } from './listing';
import { FOUND, measuredOrder, measureRange, noMeasures, noteMeasured } from './measures';
import { mergeListings } from './merge';
import { parseQuery } from './query';

/** A catalogue of so many sounds, all of which answer. */
function sounds(count: number): Catalogue {
  const builder = new ListingBuilder(count);
  for (let i = 0; i < count; i++)
    builder.add({
      ...{ path: `takes/${String(i).padStart(4, '0')}.wav`, size: 100, stored: 100, modified: undefined },
      ...{ kind: 'sound', flags: 1, hash: undefined, problem: undefined },
    });
  const catalogue = Catalogue.of(mergeListings([builder.done()]));
  catalogue.settle([1]);
  return catalogue;
}
const numbersOf = (catalogue: Catalogue, search: string): number[] => {
  const terms = parseQuery(search);
  const mask = findRows(catalogue, { folder: '', terms, archive: undefined }, { archives: ['a'] });
  return [...mask].flatMap((fits, row) => (fits ? [row] : []));
};

/** Lengths and levels of the first four; the fifth is broken, the sixth was not listened to. */
function listened(): Catalogue {
  const catalogue = sounds(6);
  const measures = noMeasures(6);
  const note = (row: number, length: number, level: number, found = 0): void =>
    noteMeasured(measures, row, { length, level, rate: 22050, channels: 1, found: FOUND.measured | found });
  note(0, 3, -20);
  note(1, 0.5, -12, FOUND.clipped);
  note(2, 61, Number.NEGATIVE_INFINITY, FOUND.silent);
  note(3, 2, -30);
  noteMeasured(measures, 4, { found: FOUND.measured | FOUND.broken });
  catalogue.measure(() => measures, 'one');
  return catalogue;
}

describe('what was measured', () => {
  test.each([
    ['length:<2s', [1, 3]],
    ['length:>2s', [0, 2, 3]],
    ['length:2', [3]],
    ['length:500ms', [1]],
    ['length:1s..3s', [0, 3]],
    ['length:>1min', [2]],
    ['-length:<2s', [0, 2, 4, 5]],
    ['level:>-15db', [1]],
    ['level:-30..-20', [0, 3]],
    ['level:<-60', [2]],
    ['rate:22.05khz channels:1', [0, 1, 2, 3]],
    ['is:silent', [2]],
    ['is:clipped', [1]],
    ['is:broken', [4]],
    ['is:measured', [0, 1, 2, 3, 4]],
    ['-is:measured', [5]],
  ])('is found by %s', (search, rows) => {
    expect(numbersOf(listened(), search)).toEqual(rows);
  });

  test.each(['length:soon', 'length:2parsecs'])('%s is no length, but part of a path', (search) => {
    expect(numbersOf(listened(), search)).toEqual([]);
  });

  test('before anything was nothing is found, and all stand as they stood', () => {
    const catalogue = sounds(3);
    expect(numbersOf(catalogue, 'length:<2s')).toEqual([]);
    const all = new Uint8Array(3).fill(1);
    for (const isDescending of [false, true])
      expect(pageOf(catalogue, all, { sort: 'length', isDescending, offset: 0, limit: 9 })).toEqual([
        0, 1, 2,
      ]);
  });

  test('puts rows in order, those without a measure behind the others both ways', () => {
    const catalogue = listened();
    const all = new Uint8Array(6).fill(1);
    const page = (isDescending: boolean) =>
      pageOf(catalogue, all, { sort: 'length', isDescending, offset: 0, limit: 9 });
    expect(page(false)).toEqual([1, 3, 0, 2, 4, 5]);
    expect(page(true)).toEqual([2, 0, 3, 1, 4, 5]);
    expect(placeOf(catalogue, all, { sort: 'length', isDescending: true }, 1)).toBe(3);
    expect(pageOf(catalogue, all, { sort: 'level', isDescending: false, offset: 0, limit: 2 })).toEqual([
      2, 3,
    ]);
  });

  test('is taken again once more of it is known', () => {
    const catalogue = listened();
    const more = noMeasures(6);
    noteMeasured(more, 5, { length: 1, level: -9, rate: 8000, channels: 2, found: FOUND.measured });
    catalogue.measure(() => more, 'one');
    expect(numbersOf(catalogue, 'channels:2')).toEqual([]);
    catalogue.measure(() => more, 'two');
    expect(numbersOf(catalogue, 'channels:2')).toEqual([5]);
    const all = new Uint8Array(6).fill(1);
    expect(pageOf(catalogue, all, { sort: 'length', isDescending: false, offset: 0, limit: 1 })).toEqual([5]);
  });
});

test('ranges are read in the units of their measure', () => {
  expect(measureRange('length', '>=1.5min')).toEqual({ least: 90, most: Infinity });
  expect(measureRange('rate', '<44.1kHz')).toEqual({ least: -Infinity, most: 44100 });
  expect(measureRange('level', '-20..-12dB')).toEqual({ least: -20, most: -12 });
  expect(measureRange('level', '2s')).toBeUndefined();
  expect(measureRange('channels', '')).toBeUndefined();
});

test('an order holds every row once, whatever is known', () => {
  fc.assert(
    fc.property(fc.array(fc.oneof(fc.double(), fc.constant(Number.NaN))), (values) => {
      const { order, known } = measuredOrder(Float64Array.from(values));
      expect([...order].sort((a, b) => a - b)).toEqual(values.map((_, row) => row));
      for (let i = 0; i < values.length; i++) expect(Number.isNaN(values[order[i]!]!)).toBe(i >= known);
      for (let i = 1; i < known; i++) expect(values[order[i - 1]!]! <= values[order[i]!]!).toBe(true);
    }),
  );
});
