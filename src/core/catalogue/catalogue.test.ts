import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { codeOfKind, endingOf, kindOfEnding, type Kind } from '../kinds';
import { commonAffixes } from './affixes';
import { Catalogue, SORTS } from './catalogue';
import { findRows, pageOf, placeOf, totalsOf, type FindContext } from './find';
import { folderAt } from './folders';
import { HashIndex, hashReferences } from './hash-references';
import { FLAG, ListingBuilder, packListing, unpackListing, type Listing } from './listing';
import { isMeasuredSort } from './measures';
import { mergeListings } from './merge';
import { namesakesOf, rowSpelled } from './namesakes';
import { rowNumbered } from './row-numbered';
import { parseQuery } from './query';

interface Given {
  readonly path: string;
  readonly size: number;
  readonly stored: number;
  readonly modified: number | undefined;
  readonly hash: string | undefined;
}

/** As format scripts and open formats say. */
const OWN: Readonly<Record<string, Kind>> = { sheet: 'picture', lines: 'text', form: 'model' };
const kindOf = (path: string): Kind => OWN[endingOf(path)] ?? kindOfEnding(path) ?? 'data';

function listingOf(entries: readonly Given[]): Listing {
  const builder = new ListingBuilder(entries.length);
  for (const { hash, ...entry } of entries)
    builder.add({
      ...entry,
      hash,
      kind: kindOf(entry.path),
      flags: hash ? 0 : FLAG.named,
      problem: entry.size === 13 ? 'cut short' : undefined,
    });
  return builder.done();
}

const of = (...archives: (readonly Given[])[]): Catalogue =>
  Catalogue.of(mergeListings(archives.map(listingOf)));
const entry = (path: string, size = 1, hash?: string): Given => ({
  path,
  size,
  stored: Math.ceil(size / 2),
  modified: undefined,
  hash,
});

const names = (archives: number): FindContext => ({
  archives: Array.from({ length: archives }, (_, i) => `holds/h${i}.hold`),
});

function found(catalogue: Catalogue, search: string, more: Partial<FindContext> = {}, folder = ''): string[] {
  const mask = findRows(
    catalogue,
    { folder, terms: parseQuery(search), archive: undefined },
    { ...names(3), ...more },
  );
  return pageOf(catalogue, mask, { sort: 'path', isDescending: false, offset: 0, limit: 1000 }).map((row) =>
    catalogue.path(row),
  );
}

const stem = fc.constantFrom('odd', 'Ibis', 'heron', 'boat00', 'boat01', 'a-b', 'ä');
const ending = fc.constantFrom('.sheet', '.wav', '.lines', '');
const path = fc
  .tuple(fc.array(stem, { maxLength: 2 }), stem, ending)
  .map(([folders, name, end]) => [...folders, name + end].join('/'));
const anyEntry: fc.Arbitrary<Given> = fc.record({
  path,
  size: fc.integer({ min: 0, max: 100_000 }),
  stored: fc.integer({ min: 0, max: 2 ** 40 }),
  modified: fc.option(fc.integer({ min: 0, max: 2 ** 32 }), { nil: undefined }),
  hash: fc.option(fc.stringMatching(/^[0-9a-f]{16}$/), { nil: undefined }),
});
const anyArchives = fc.array(fc.array(anyEntry, { maxLength: 25 }), { maxLength: 5 });
const byBytes = (a: string, b: string): number => Buffer.compare(Buffer.from(a), Buffer.from(b));

describe('listings', () => {
  test('come back from their file as they were', () => {
    fc.assert(
      fc.property(fc.array(anyEntry, { maxLength: 30 }), (entries) => {
        const listing = listingOf(entries);
        const bytes = Buffer.concat(packListing(listing, { stamp: 'x' }));
        const back = unpackListing(new Uint8Array(bytes));
        expect(back).toEqual(listing);
      }),
    );
  });

  test('every cut of the file is refused, not misread', () => {
    const whole = new Uint8Array(Buffer.concat(packListing(listingOf([entry('a'), entry('b')]), {})));
    for (let length = 0; length < whole.length - 7; length++)
      expect(() => unpackListing(whole.slice(0, length))).toThrow();
  });

  test('lines are sorted by their bytes, equal ones by number', () => {
    const listing = listingOf([entry('b'), entry('a-b'), entry('a/c'), entry('b', 2)]);
    expect(new TextDecoder().decode(listing.lines)).toBe('a-b\na/c\nb\nb\n');
    expect([...listing.numbers]).toEqual([1, 2, 0, 3]);
    expect([...listing.sizes]).toEqual([1, 1, 1, 2]);
  });
});

describe('a catalogue', () => {
  test('is what a plain list says, in every order', () => {
    fc.assert(
      fc.property(anyArchives, fc.boolean(), (archives, isDescending) => {
        const catalogue = of(...archives);
        const plain = archives
          .flatMap((entries, archive) => entries.map((one, number) => ({ ...one, archive, number })))
          .sort((a, b) => byBytes(a.path, b.path) || a.archive - b.archive || a.number - b.number);
        expect(catalogue.count).toBe(plain.length);
        plain.forEach((one, row) => {
          expect(catalogue.at(row)).toMatchObject({
            path: one.path,
            archive: one.archive,
            number: one.number,
            size: one.size,
            stored: one.stored,
            modified: one.modified,
            hash: one.hash,
            kind: kindOf(one.path),
          });
          expect(catalogue.rowOf(one.archive, one.number)).toBe(row);
        });
        const all = new Uint8Array(catalogue.count).fill(1);
        for (const sort of SORTS) {
          const rows = pageOf(catalogue, all, { sort, isDescending, offset: 0, limit: 1e6 });
          expect([...rows].sort((a, b) => a - b)).toEqual(plain.map((_, row) => row));
          const key = (row: number): number | string => {
            const one = plain[row]!;
            if (sort === 'path') return row;
            if (sort === 'name')
              return one.path
                .split('/')
                .pop()!
                .replace(/[A-Z]/g, (s) => s.toLowerCase());
            if (sort === 'kind') return catalogue.columns.kinds[row]!;
            // Nothing was measured, so that all of them stand as they stood.
            if (isMeasuredSort(sort)) return row;
            return one[sort] ?? -1;
          };
          const keys = rows.map(key);
          if (isDescending && !isMeasuredSort(sort)) keys.reverse();
          for (let i = 1; i < keys.length; i++) {
            const [a, b] = [keys[i - 1]!, keys[i]!];
            expect(typeof a === 'string' ? byBytes(a, b as string) : a - (b as number)).toBeLessThanOrEqual(
              0,
            );
          }
          rows.forEach((row, place) =>
            expect(placeOf(catalogue, all, { sort, isDescending }, row)).toBe(place),
          );
        }
      }),
      { numRuns: 60 },
    );
  });

  test('the archive with the highest rank answers, of equal ones the later', () => {
    const catalogue = of([entry('x', 1), entry('y', 1)], [entry('x', 2)], [entry('x', 3), entry('x', 4)]);
    const winners = (ranks: readonly number[]): number[] => {
      catalogue.settle(ranks);
      return [...Array(catalogue.count).keys()]
        .filter((row) => catalogue.wins[row] === 1)
        .map((row) => catalogue.at(row).size);
    };
    expect(winners([10, 20, 30])).toEqual([3, 1]);
    expect(winners([10, 30, 20])).toEqual([2, 1]);
    expect(winners([10, 10, 10])).toEqual([3, 1]);
    expect(winners([40, 30, -Infinity])).toEqual([1, 1]);
    expect(winners([-Infinity, -Infinity, -Infinity])).toEqual([]);
    catalogue.settle([10, 30, 20]);
    expect(catalogue.stack('x').map((row) => catalogue.at(row).size)).toEqual([2, 3, 4, 1]);
    expect(catalogue.stack('nowhere')).toEqual([]);
    expect(catalogue.stack('')).toEqual([]);
    const longer = of([entry('a/b'), entry('a'), entry('ab'), entry('a b')], [entry('a'), entry('a-b')]);
    longer.settle([1, 2]);
    expect(longer.stack('a').map((row) => longer.at(row).archive)).toEqual([1, 0]);
  });

  test('folders count what answers below them', () => {
    fc.assert(
      fc.property(anyArchives, (archives) => {
        const catalogue = of(...archives);
        catalogue.settle(archives.map((_, i) => i));
        const plain = [...Array(catalogue.count).keys()]
          .filter((row) => catalogue.wins[row] === 1)
          .map((row) => catalogue.at(row));
        const root = catalogue.folders();
        expect(root.count).toBe(plain.length);
        const paths = new Set(
          plain.flatMap(({ path: whole }) =>
            whole.split('/').map((_, i, steps) =>
              steps
                .slice(0, i)
                .map((step) => `${step}/`)
                .join(''),
            ),
          ),
        );
        for (const folder of paths) {
          const below = plain.filter(({ path: whole }) => whole.startsWith(folder));
          expect(folderAt(root, folder)).toMatchObject({
            path: folder,
            count: below.length,
            bytes: below.reduce((sum, { size }) => sum + size, 0),
          });
        }
      }),
    );
  });
});

describe('a search', () => {
  const catalogue = of(
    [
      entry('actors/odd/cape.sheet', 5000),
      entry('actors/ibis/cape.sheet', 70),
      entry('text/en/ferry.lines', 468, '00afa0ab162a437e'),
      entry('text/мост.lines', 13),
      entry('C:odd', 9),
    ],
    [entry('actors/odd/cape.sheet', 6000), entry('voice/Odd Marren.wav', 2_000_000)],
  );
  catalogue.settle([1, 2]);

  test.each([
    ['cape', ['actors/ibis/cape.sheet', 'actors/odd/cape.sheet']],
    ['CAPE odd', ['actors/odd/cape.sheet']],
    ['cape -odd', ['actors/ibis/cape.sheet']],
    ['"odd marren"', ['voice/Odd Marren.wav']],
    ['*.lines', ['text/en/ferry.lines', 'text/мост.lines']],
    ['c?pe*', ['actors/ibis/cape.sheet', 'actors/odd/cape.sheet']],
    ['actors/*/cape.sheet', ['actors/ibis/cape.sheet', 'actors/odd/cape.sheet']],
    ['/^a.*ibis/', ['actors/ibis/cape.sheet']],
    ['МОСТ', ['text/мост.lines']],
    ['name:cape', ['actors/ibis/cape.sheet', 'actors/odd/cape.sheet']],
    ['name:odd', []],
    ['kind:sound', ['voice/Odd Marren.wav']],
    ['kind:pictures size:>1k', ['actors/odd/cape.sheet']],
    ['size:400..500', ['text/en/ferry.lines']],
    ['size:<=70 kind:picture', ['actors/ibis/cape.sheet']],
    ['size:1M..3mb', ['voice/Odd Marren.wav']],
    ['hash:00afa0', ['text/en/ferry.lines']],
    ['hash:0x00AFA0AB162A437E', ['text/en/ferry.lines']],
    ['hash:00afa0ab162a437f', []],
    ['number:1', ['actors/ibis/cape.sheet', 'voice/Odd Marren.wav']],
    ['in:h1', ['actors/odd/cape.sheet', 'voice/Odd Marren.wav']],
    ['is:hidden', ['actors/odd/cape.sheet']],
    ['is:doubled', ['actors/odd/cape.sheet', 'actors/odd/cape.sheet']],
    ['is:unnamed', ['text/en/ferry.lines']],
    ['is:problem', ['text/мост.lines']],
    ['c:odd', ['C:odd']],
    [
      '',
      [
        'C:odd',
        'actors/ibis/cape.sheet',
        'actors/odd/cape.sheet',
        'text/en/ferry.lines',
        'text/мост.lines',
        'voice/Odd Marren.wav',
      ],
    ],
  ])('%s', (search, paths) => expect(found(catalogue, search)).toEqual(paths));

  test('within a folder only', () => {
    expect(found(catalogue, 'cape', {}, 'actors/odd/')).toEqual(['actors/odd/cape.sheet']);
    expect(found(catalogue, 'cape', {}, 'nowhere/')).toEqual([]);
  });

  test('readable names, codes and tags come from outside', () => {
    expect(found(catalogue, 'rain', { called: () => [0] })).toEqual([catalogue.path(0)]);
    expect(found(catalogue, 'bird', { codes: () => ['ibis', 'ferry'] })).toEqual([
      'actors/ibis/cape.sheet',
      'text/en/ferry.lines',
    ]);
    const row = catalogue.stack('text/en/ferry.lines')[0]!;
    expect(found(catalogue, 'tag:done', { tagged: () => [row] })).toEqual(['text/en/ferry.lines']);
    expect(found(catalogue, '-tag:done kind:text', { tagged: () => [row] })).toEqual(['text/мост.lines']);
  });

  test.each([
    ['ok /(/', 4, 'expression'],
    ['kind:smell', 1, 'picture'],
    ['cape size:big', 6, '10k..2M'],
    ['size:9..1q', 1, '10k..2M'],
    ['hash:xyz', 1, 'hexadecimal'],
    ['number:-1', 1, 'digits'],
    ['is:blue', 1, 'hidden'],
  ])('what cannot be, %s, is said with its place', (search, column, word) => {
    try {
      parseQuery(search);
      throw new Error('it was taken');
    } catch (error) {
      expect(error).toMatchObject({ code: 'bad-value', facts: { column } });
      expect((error as Error).message).toContain(word);
    }
  });

  test('no text is a crash', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 60 }), (text) => {
        try {
          found(catalogue, text);
        } catch (error) {
          expect(error).toMatchObject({ name: 'FormatError' });
        }
      }),
    );
  });

  test('counts what it found', () => {
    const mask = findRows(catalogue, { folder: '', terms: [], archive: undefined }, names(2));
    const { count, bytes, archives, kinds } = totalsOf(catalogue, mask);
    expect([count, bytes, archives]).toEqual([6, 2_006_560, [4, 2]]);
    const ofKind = (kind: Kind): number => kinds[codeOfKind(kind)]!;
    expect([ofKind('picture'), ofKind('sound'), ofKind('text')]).toEqual([2, 1, 2]);
  });

  test('one archive shows what others hide of it', () => {
    const mask = findRows(catalogue, { folder: '', terms: parseQuery('cape'), archive: 0 }, names(2));
    const rows = pageOf(catalogue, mask, { sort: 'size', isDescending: true, offset: 0, limit: 9 });
    expect(rows.map((row) => catalogue.at(row).size)).toEqual([5000, 70]);
  });
});

describe('names that belong together', () => {
  const catalogue = of(
    [
      entry('voice/en/odd/vo_greeting.wav'),
      entry('voice/de/odd/vo_greeting.wav'),
      entry('voice/fr/odd/vo_greeting.wav'),
      entry('voice/fr/odd/not_vo_greeting.wav'),
      entry('boats/skiff_hull.sheet'),
      entry('boats/punt_hull.sheet'),
      entry('boats/7_9.sheet'),
      entry('boats/8_9.sheet'),
    ],
    [entry('voice/de/odd/vo_greeting.wav')],
  );
  catalogue.settle([0, 1]);
  const row = (path: string): number => catalogue.stack(path)[0]!;
  const IN_LATER = catalogue.rowOf(1, 0);

  test('namesakes are those in other folders that answer, in the order of paths', () => {
    const found = namesakesOf(catalogue, row('voice/en/odd/vo_greeting.wav'));
    expect(found.map((at) => catalogue.path(at))).toEqual([
      'voice/de/odd/vo_greeting.wav',
      'voice/fr/odd/vo_greeting.wav',
    ]);
    expect(catalogue.columns.archives[found[0]!]).toBe(1);
    expect(namesakesOf(catalogue, row('boats/punt_hull.sheet'))).toEqual([]);
  });

  test.each([
    ['de/odd/vo_greeting.wav', undefined, 'voice/de/odd/vo_greeting.wav'],
    // Spelled from another beginning, with a step that is nowhere.
    ['voices/fr/odd/vo_greeting.wav', 0, 'voice/fr/odd/vo_greeting.wav'],
    ['boats/punt_hull.sheet', undefined, 'boats/punt_hull.sheet'],
    ['punt_hull.sheet', undefined, 'boats/punt_hull.sheet'],
    // A name alone, where folders are spelled, only in the archive of whoever spells it.
    ['ships/punt_hull.sheet', 0, 'boats/punt_hull.sheet'],
    ['ships/punt_hull.sheet', 1, undefined],
    ['ships/hull.sheet', 0, undefined],
    ['*_hull.sheet', 0, undefined],
    ['', 0, undefined],
    ['boats/', 0, undefined],
    // As it is spelled, and from the folder of whoever spells it on, come first.
    ['boats\\punt_hull.sheet', undefined, 'boats/punt_hull.sheet'],
    ['./boats/7_9.sheet', 0, 'boats/7_9.sheet'],
    ['skiff_hull.sheet', 0, 'boats/skiff_hull.sheet'],
  ])('%s as archive %s spells it is %s', (spelled, archive, path) => {
    const own = archive === undefined ? -1 : archive === 0 ? row('boats/8_9.sheet') : IN_LATER;
    const found = rowSpelled(catalogue, spelled, own);
    expect(found === undefined ? undefined : catalogue.path(found)).toBe(path);
  });

  test('beginnings and ends are counted once a path, digits alone are none', () => {
    expect(commonAffixes(catalogue, 10)).toEqual([
      { affix: '*_greeting', count: 4, kind: 'sound', example: 'voice/de/odd/vo_greeting.wav' },
      { affix: 'vo_*', count: 3, kind: 'sound', example: 'voice/de/odd/vo_greeting.wav' },
      { affix: '*_hull', count: 2, kind: 'picture', example: 'boats/punt_hull.sheet' },
    ]);
    expect(commonAffixes(catalogue, 1)).toHaveLength(1);
  });
});

describe('references by hash', () => {
  const wide = '00afa0c1d2e3f405';
  const narrow = '00000000deadbeef';
  const catalogue = of([entry('a.sheet', 1, wide), entry('b.sheet', 1, narrow), entry('c.sheet')]);
  catalogue.settle([0]);
  const index = new HashIndex(catalogue);
  const row = (path: string): number => catalogue.stack(path)[0]!;

  test('are found in both byte orders at multiples of four', () => {
    const bytes = Buffer.alloc(48, 0x11);
    bytes.writeBigUInt64LE(BigInt(`0x${wide}`), 4);
    bytes.writeUInt32BE(0xdeadbeef, 20);
    expect(hashReferences(bytes, index, 10).found).toEqual([
      { row: row('a.sheet'), byteOffset: 4 },
      { row: row('b.sheet'), byteOffset: 20 },
    ]);
    const other = Buffer.alloc(16);
    other.writeBigUInt64BE(BigInt(`0x${wide}`), 8);
    expect(hashReferences(other, index, 10).found).toEqual([{ row: row('a.sheet'), byteOffset: 8 }]);
  });

  test.each([
    ['49434875251651589', 'a.sheet'],
    ['0x00AFA0C1D2E3F405', 'a.sheet'],
    [wide, 'a.sheet'],
    ['3735928559', 'b.sheet'],
    ['-559038737', 'b.sheet'],
    ['deadbeef', 'b.sheet'],
    // Small ones are entries of the archive of whoever says it, but never itself.
    ['1', 'b.sheet'],
    ['2', undefined],
    ['3', undefined],
    ['99999999', undefined],
    ['99999999999999999999', undefined],
    ['a.sheet', undefined],
    ['', undefined],
    ['-', undefined],
  ])('%s in place of a path is %s', (spelled, path) => {
    const found = rowNumbered(
      catalogue,
      spelled,
      row('c.sheet'),
      () => index,
      () => true,
    );
    expect(found === undefined ? undefined : catalogue.path(found)).toBe(path);
  });

  test('a number of an entry says nothing where nobody says it, or of what cannot be meant; a hash does', () => {
    const hashes = (): HashIndex => index;
    expect(rowNumbered(catalogue, '1', -1, hashes, () => true)).toBeUndefined();
    expect(rowNumbered(catalogue, '1', row('c.sheet'), hashes, () => false)).toBeUndefined();
    expect(rowNumbered(catalogue, wide, -1, hashes, () => false)).toBe(row('a.sheet'));
  });

  test('in noise there are none', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 4000 }), (noise) => {
        expect(hashReferences(noise, index, 10).found).toEqual([]);
      }),
    );
  });

  test('hashes of 32 bits are left out where chance would find some, and that is said', () => {
    const many = of(
      Array.from({ length: 4000 }, (_, i) =>
        entry(`n${i}`, 1, (0x80000000 + i * 77_777).toString(16).padStart(16, '0')),
      ),
    );
    many.settle([0]);
    const bytes = Buffer.alloc(4 << 16);
    bytes.writeUInt32LE(0x80000000, 0);
    const large = hashReferences(bytes, new HashIndex(many), 10);
    expect(large.found).toEqual([]);
    expect(large.byChance).toBeGreaterThan(0.05);
    expect(hashReferences(bytes.subarray(0, 64), new HashIndex(many), 10).found).toHaveLength(1);
  });

  test('every hash is found again, and no other', () => {
    const halves = fc.tuple(
      fc.integer({ min: 1 << 20, max: 0xffffffff }),
      fc.integer({ min: 1 << 20, max: 0xffffffff }),
    );
    fc.assert(
      fc.property(fc.uniqueArray(halves, { maxLength: 60, selector: String }), halves, (given, other) => {
        const hex = (half: number): string => half.toString(16).padStart(8, '0');
        const all = of(given.map(([high, low], i) => entry(`e${i}`, 1, hex(high) + hex(low))));
        all.settle([0]);
        const made = new HashIndex(all);
        for (const [high, low] of given) {
          const at = made.find(high, low);
          expect(all.at(at).hash).toBe(hex(high) + hex(low));
        }
        const known = given.some(([high, low]) => high === other[0] && low === other[1]);
        expect(made.find(...other) >= 0).toBe(known);
      }),
    );
  });
});
