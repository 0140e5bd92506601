import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { Catalogue } from './catalogue';
import { alikeInName, alikeKeys } from './finest';
import { findRows } from './find';
import { FLAG, ListingBuilder } from './listing';
import { FOUND, noMeasures, noteMeasured } from './measures';
import { mergeListings } from './merge';
import { parseQuery } from './query';

/** Models by path with their triangles, in archives; those of later archives answer. */
function models(...archives: Readonly<Record<string, number>>[]): Catalogue {
  const listings = archives.map((archive) => {
    const builder = new ListingBuilder(Object.keys(archive).length);
    for (const path of Object.keys(archive))
      builder.add({
        ...{ path, size: 1, stored: 1, modified: undefined, kind: 'model' as const, hash: undefined },
        ...{ flags: path.startsWith('0x') ? 0 : FLAG.named, problem: undefined },
      });
    return builder.done();
  });
  const catalogue = Catalogue.of(mergeListings(listings));
  catalogue.settle(archives.map((_, i) => i + 1));
  const measures = noMeasures(catalogue.count);
  for (let row = 0; row < catalogue.count; row++) {
    const { path, archive } = catalogue.at(row);
    noteMeasured(measures, row, { triangles: archives[archive]![path]!, found: FOUND.measured });
  }
  catalogue.measure(() => measures, 'once');
  return catalogue;
}
const found = (catalogue: Catalogue, search: string): string[] => {
  const mask = findRows(
    catalogue,
    { folder: '', terms: parseQuery(search), archive: undefined },
    { archives: ['a', 'b'] },
  );
  return [...mask].flatMap((fits, row) => (fits ? [catalogue.path(row)] : []));
};

describe('the finest of several that are alike in name', () => {
  test.each<[string, Readonly<Record<string, number>>, string[]]>([
    ['by a word', { 'a/hook_coarse.m': 8, 'a/hook_fine.m': 90, 'a/lamp.m': 500 }, ['a/hook_fine.m']],
    ['by a letter', { 'b/blouse_c.m': 5, 'b/blouse_d.m': 7, 'b/blouse_e.m': 6 }, ['b/blouse_d.m']],
    ['by a number without a sign before it', { 'oak1.m': 5, 'oak2.m': 9 }, ['oak2.m']],
    ['in capitals', { 'Hook_Fine.M': 9, 'hook_coarse.m': 4 }, ['Hook_Fine.M']],
    ['several that are equally fine', { 'x_a.m': 9, 'x_b.m': 9, 'x_c.m': 1 }, ['x_a.m', 'x_b.m']],
    ['none where all are the same', { 'x_a.m': 9, 'x_b.m': 9 }, []],
    ['none that stands alone', { 'x_a.m': 9, 'y.m': 2 }, []],
    ['none of another folder or ending', { 'a/x_a.m': 9, 'b/x_b.m': 2, 'a/x_c.n': 1 }, []],
    ['none of another shape of name', { 'x_a.m': 9, 'x_a_b.m': 2, 'x-c.m': 3 }, []],
    ['none without a name of its own', { '0x01.m': 9, '0x02.m': 2 }, []],
  ])('%s', (_, archive, wanted) => {
    expect(found(models(archive), 'is:finest').sort()).toEqual(wanted);
  });

  test('what another archive hides is held against nothing', () => {
    const catalogue = models({ 'x_a.m': 90, 'x_b.m': 20 }, { 'x_a.m': 10 });
    expect(found(catalogue, 'is:finest')).toEqual(['x_b.m']);
    const row = catalogue.stack('x_b.m')[0]!;
    expect(
      alikeInName(catalogue, row).map((one) => [catalogue.path(one), catalogue.at(one).archive]),
    ).toEqual([
      ['x_b.m', 0],
      ['x_a.m', 1],
    ]);
  });

  test('a hundred that are numbered are a series', () => {
    const archive = Object.fromEntries(Array.from({ length: 100 }, (_, i) => [`rock_${i}.m`, i + 1]));
    const catalogue = models(archive);
    expect(found(catalogue, 'is:finest')).toEqual([]);
    expect(alikeInName(catalogue, 0)).toEqual([]);
  });

  test('two that share a key differ in one word at most, whatever they are called', () => {
    const word = fc.stringMatching(/^[a-z]{1,3}$/);
    fc.assert(
      fc.property(
        fc.array(word, { minLength: 2, maxLength: 4 }),
        fc.array(word, { minLength: 2, maxLength: 4 }),
        (a, b) => {
          const keys = new Set(alikeKeys(`f/${a.join('_')}.m`));
          const shares = alikeKeys(`f/${b.join('_')}.m`).some((key) => keys.has(key));
          const apart = a.filter((one, i) => one !== b[i]).length;
          expect(shares).toBe(a.length === b.length && apart <= 1);
        },
      ),
    );
  });
});
