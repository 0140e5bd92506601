import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { AnyCaseIndex } from './any-case';
import { Catalogue } from './catalogue';
import { mergeListings } from './merge';
import { plainListing } from '../testing/plain-listing';

function of(paths: readonly string[]): Catalogue {
  const catalogue = Catalogue.of(mergeListings([plainListing(paths)]));
  catalogue.settle([0]);
  return catalogue;
}

describe('paths in any case', () => {
  const index = new AnyCaseIndex(of(['a/Keel.txt', 'a/keel.txt', 'b/KEEL.TXT', 'b/mast.txt']));

  test('the one in just this case comes first', () => {
    expect(index.find('a/keel.txt')).toBe('a/keel.txt');
    expect(index.find('a/Keel.txt')).toBe('a/Keel.txt');
    expect(index.find('B/MAST.TXT')).toBe('b/mast.txt');
    expect(index.find('a/KEEL.txt')?.toLowerCase()).toBe('a/keel.txt');
    expect(index.find('b/mast')).toBeUndefined();
  });

  test('names are found in all folders, as many as are wanted', () => {
    expect(index.named('keel.txt', 10)).toEqual(['a/Keel.txt', 'a/keel.txt', 'b/KEEL.TXT']);
    expect(index.named('keel.txt', 2)).toHaveLength(2);
    expect(index.named('none', 2)).toEqual([]);
  });

  test('every path is found in any case, and nothing else is', () => {
    const step = fc.string({ unit: fc.constantFrom('a', 'B', 'ä', '1', '.'), minLength: 1, maxLength: 5 });
    const path = fc.array(step, { minLength: 1, maxLength: 3 }).map((steps) => steps.join('/'));
    fc.assert(
      fc.property(fc.uniqueArray(path, { maxLength: 40 }), path, (paths, other) => {
        const made = new AnyCaseIndex(of(paths));
        // Letters of ASCII alone are taken in either case.
        const upper = (text: string): string => text.replace(/[a-z]/g, (sign) => sign.toUpperCase());
        for (const one of paths) {
          expect(made.find(one)).toBe(one);
          expect(made.find(upper(one))?.toLowerCase()).toBe(one.toLowerCase());
        }
        const known = paths.some((one) => one.toLowerCase() === other.toLowerCase());
        expect(made.find(other) !== undefined).toBe(known);
      }),
    );
  });
});
