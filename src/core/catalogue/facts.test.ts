import { describe, expect, test } from '@jest/globals';
import { factOf, mergeFacts, type FactColumn } from './facts';
import { Catalogue } from './catalogue';
import { factCounts, findRows, pageOf } from './find';
import { packListing, unpackListing } from './listing';
import { mergeListings } from './merge';
import { plainListing } from '../testing/plain-listing';
import { parseQuery } from './query';

const words = (title: string, list: readonly string[], values: readonly number[]): FactColumn => ({
  title,
  words: list,
  values: Float64Array.from(values),
});
const numbers = (title: string, values: readonly number[]): FactColumn => ({
  title,
  words: undefined,
  values: Float64Array.from(values),
});

const one = plainListing(
  ['b', 'a', 'c'],
  [words('codec', ['bc1', 'bc3'], [0, 1, 1]), numbers('pages', [3, NaN, 7])],
);
const other = plainListing(['d', 'a'], [words('codec', ['raw', 'bc1'], [0, 1])]);
const catalogue = Catalogue.of(mergeListings([one, other]));
catalogue.settle([1, 2]);

const found = (search: string): string[] => {
  const mask = findRows(
    catalogue,
    { folder: '', terms: parseQuery(search), archive: undefined },
    { archives: [] },
  );
  return pageOf(catalogue, mask, { sort: 'path', isDescending: false, offset: 0, limit: 99 }).map((row) =>
    catalogue.path(row),
  );
};

describe('fields that scripts show', () => {
  test('follow their rows when these are sorted, into a file and back', () => {
    const back = unpackListing(new Uint8Array(Buffer.concat(packListing(one, {}))));
    expect(back.facts.map((fact) => [0, 1, 2].map((row) => factOf(fact, row)))).toEqual([
      ['bc3', 'bc1', 'bc3'],
      [undefined, '3', '7'],
    ]);
  });

  test('of several archives are one column', () => {
    const [codec, pages] = catalogue.columns.facts;
    const rows = [...Array(catalogue.count).keys()];
    expect(rows.map((row) => [catalogue.path(row), factOf(codec!, row), factOf(pages!, row)])).toEqual([
      ['a', 'bc3', undefined],
      ['a', 'bc1', undefined],
      ['b', 'bc1', '3'],
      ['c', 'bc3', '7'],
      ['d', 'raw', undefined],
    ]);
  });

  test('numbers beside words of the same title become words', () => {
    const merged = mergeFacts(
      [{ facts: [numbers('x', [5])] }, { facts: [words('x', ['five'], [0])] }],
      Uint16Array.of(0, 1),
      Uint32Array.of(0, 0),
    );
    expect(merged.map((fact) => [factOf(fact, 0), factOf(fact, 1)])).toEqual([['5', 'five']]);
  });

  test.each([
    ['codec:bc1', ['a', 'b']],
    ['CODEC:BC*', ['a', 'b', 'c']],
    ['-codec:raw', ['a', 'b', 'c']],
    ['pages:3', ['b']],
    ['pages:>3', ['c']],
    ['pages:<4', ['b']],
    ['pages:1..9', ['b', 'c']],
    ['pages:many', []],
    ['nothing:bc1', []],
  ])('%s', (search, paths) => expect(found(search)).toEqual(paths));

  test('are counted among what was found', () => {
    const mask = Uint8Array.from(catalogue.wins);
    expect(factCounts(catalogue, mask, 9)).toEqual([
      {
        title: 'codec',
        key: 'codec',
        values: [
          { value: 'bc1', count: 2 },
          { value: 'bc3', count: 1 },
          { value: 'raw', count: 1 },
        ],
      },
    ]);
    expect(factCounts(catalogue, new Uint8Array(catalogue.count), 9)).toEqual([]);
  });
});
