import { describe, expect, test } from '@jest/globals';
import { affixOf, codesOfJson, codesOfRows, fitsAffix, wordsOfPath } from './id-table';

describe('id tables', () => {
  test('rows by their titles, in whatever place', () => {
    const rows = [
      ['rank', 'Name', 'code'],
      ['1', 'Bog heron', 'a12'],
      ['2', 'Otter', 'a13'],
    ];
    expect(codesOfRows(rows).codes).toEqual([
      ['a12', 'Bog heron'],
      ['a13', 'Otter'],
    ]);
  });

  test('further columns go along, as many as are shown, cut where they are long', () => {
    const titles = ['code', 'name', ' piece ', '', ...'abcdefgh'];
    const { codes, more } = codesOfRows([
      titles,
      ['c1', 'Blouse', 'body', 'x', ...'12345678'],
      ['', 'none', 'feet'],
      ['c2', 'Boots', 'y'.repeat(500)],
      ['c1', 'Again', 'head'],
    ]);
    expect(codes.map(([code]) => code)).toEqual(['c1', 'c2']);
    expect(more!.titles).toEqual(['piece', ...'abcdefg']);
    expect(more!.rows.map((row) => [row[0]!.length, row[1]])).toEqual([
      [4, '1'],
      [120, ''],
    ]);
    const json = [
      { id: 7, name: 'Blouse', piece: 'body', worn: true, deep: {} },
      { id: 8, name: 'Boots', price: 3 },
    ];
    expect(codesOfJson(json).more).toEqual({
      titles: ['piece', 'worn', 'price'],
      rows: [
        ['body', 'true', ''],
        ['', '', '3'],
      ],
    });
    expect(codesOfJson({ a: { name: 'One', id: 'x' } }).more).toEqual({ titles: ['id'], rows: [['x']] });
  });

  test('beside a code stands its name, whatever the column is called', () =>
    expect(
      codesOfRows([
        ['code', 'item', 'weight'],
        ['lf0040', 'Lantern', '0.5'],
      ]).codes,
    ).toEqual([['lf0040', 'Lantern']]));

  test('rows without titles are code and name', () =>
    expect(codesOfRows([['a12', 'Bog heron'], ['x'], ['', 'nothing']]).codes).toEqual([
      ['a12', 'Bog heron'],
    ]));

  test('a code that stands there twice keeps its first name and is said', () =>
    expect(
      codesOfRows([
        ['a', 'One'],
        ['b', 'Two'],
        ['a', 'Three'],
        ['b', 'Two'],
      ]),
    ).toEqual({
      codes: [
        ['a', 'One'],
        ['b', 'Two'],
      ],
      doubled: ['a'],
    }));

  test.each([
    [{ a: 'One', b: 2 }],
    [
      [
        ['a', 'One'],
        ['b', 2],
      ],
    ],
    [[{ id: 'a', name: 'One' }, { code: 'b', title: 2 }, 7, null]],
    [{ a: { title: 'One' }, b: { name: '2', x: 1 }, c: {} }],
  ])('JSON in the shape %j', (value) =>
    expect(codesOfJson(value).codes).toEqual([
      ['a', 'One'],
      ['b', '2'],
    ]),
  );

  test.each([[[]], [{}], [7], [null], ['text'], [[[1]]]])('%j has no pairs, and that is said', (value) =>
    expect(() => codesOfJson(value)).toThrow(/code and a name/),
  );

  test('words of a path are its steps, stems and parts', () =>
    expect(wordsOfPath('actors/a12_var.b/odd-03.sheet')).toEqual([
      'actors',
      ...['a12_var.b', 'a12_var', 'a12', 'var'],
      ...['odd-03.sheet', 'odd-03', 'odd', '03'],
      'a12_var.b/odd-03',
    ]));

  test('names from their beginning up to a sign are codes, too', () =>
    expect(wordsOfPath('otter_pale_colour.sheet')).toEqual([
      ...['otter_pale_colour.sheet', 'otter_pale_colour', 'otter', 'otter_pale', 'pale', 'colour'],
    ]));
});

describe('codes for beginnings and ends of names', () => {
  test.each([
    ['vo_*', 'voice/en/vo_hello.wav', true],
    ['VO_*', 'voice/en/vo_hello.wav', true],
    ['vo_*', 'voice/en/hello_vo_.wav', false],
    ['*_hull', 'boats/skiff_hull.sheet', true],
    ['*_hull', 'boats/skiff_hull_wet.sheet', false],
    ['*_hull', 'boats/_hull.sheet', false],
    ['*.n', 'a/rock.n.dds', true],
  ])('%s for %s: %s', (code, path, fits) => {
    expect(fitsAffix(affixOf(code)!, path)).toBe(fits);
  });

  test('other codes say nothing of that', () => {
    for (const code of ['hull', '*', '**', '*a*', 'a*b']) expect(affixOf(code)).toBeUndefined();
  });
});
