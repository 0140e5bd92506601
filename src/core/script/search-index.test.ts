import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { openArchive } from '../archive';
import { FormatError, memorySource } from '../bytes';
import { nodePrimitives } from '@/platform/node/primitives';
import { parseScript } from './parse-script';

/** Rows of one table say which of another they mean, in the terms of a condition. */
const script = (condition: string, path = 'first') => `format script: 1
title: Joined
recognise: [{ at: 0, text: JOIN }]
constants: { SECOND: 2 }
enums: { sorts: { good: 1, bad: 2 } }
records:
  head: { tag: { type: text(4), fixed: JOIN }, rows: u16, names: u16 }
  row: { means: u16, sort: u8 }
  name: { id: u16, sort: u8, raw: bytes(2), half: 'text(2, latin1)', part: { value: '100 / id' } }
parts:
  head: { type: head, at: 0 }
  names: { type: name, at: end(head), count: head.names }
  rows: { type: row, at: end(names), count: head.rows }
entries:
  each: rows
  path: ${JSON.stringify(
    path === 'first'
      ? `text(if(exists(first(names, ${condition})), first(names, ${condition}).position, 0 - 1))`
      : `join(where(names, ${condition}).half, '+')`,
  )}
  payload: { at: '0', size: '0' }
`;

type Row = readonly [means: number, sort: number];
function bytesOf(names: readonly Row[], rows: readonly Row[]): Buffer {
  const head = Buffer.from('JOIN\0\0\0\0', 'latin1');
  head.writeUInt16LE(rows.length, 4);
  head.writeUInt16LE(names.length, 6);
  const name = ([id, sort]: Row): Buffer => {
    const row = Buffer.alloc(7);
    row.writeUInt16LE(id, 0);
    row[2] = sort;
    row.writeUInt16LE(id, 3);
    row.write(String.fromCharCode(65 + (id % 26), 65 + sort), 5, 'latin1');
    return row;
  };
  const row = ([means, sort]: Row): Buffer => Buffer.from([means & 255, means >> 8, sort]);
  return Buffer.concat([head, ...names.map(name), ...rows.map(row)]);
}
const paths = (condition: string, names: readonly Row[], rows: readonly Row[], how?: string): string[] =>
  openArchive(parseScript(script(condition, how)), memorySource(bytesOf(names, rows)), {
    primitives: nodePrimitives,
  }).entries.map(({ path }) => path);

/** Short lists are gone through, long ones have an index; a name before and behind the others makes them long. */
const LONG = 64;
const row = fc.tuple(fc.integer({ min: 1, max: 90 }), fc.integer({ min: 0, max: 3 }));
const lists = (least: number) =>
  fc.tuple(
    fc.array(row, { minLength: least, maxLength: least + 40 }),
    fc.array(row, { minLength: 1, maxLength: 30 }),
  );

describe('what is found by an index is what is found by going through all', () => {
  const ways: readonly [string, (name: Row, asks: Row) => boolean][] = [
    ['id == outer.means', ([id], [means]) => id === means],
    ['outer.means == id', ([id], [means]) => id === means],
    ['sort == 2 and id == outer.means', ([id, sort], [means]) => sort === 2 && id === means],
    ['id == outer.means and sort != outer.sort', ([id, sort], [means, own]) => id === means && sort !== own],
    ['id + sort == outer.means - SECOND', ([id, sort], [means]) => id + sort === means - 2],
    ['sort == sorts.bad and id == outer.means', ([id, sort], [means]) => sort === 2 && id === means],
    ['sort == SECOND', ([, sort]) => sort === 2],
    [
      "half == if(outer.sort == 1, 'BB', 'CA')",
      ([id, sort], [, own]) => String.fromCharCode(65 + (id % 26), 65 + sort) === (own === 1 ? 'BB' : 'CA'),
    ],
    ['id == outer.means or sort == outer.sort', ([id, sort], [means, own]) => id === means || sort === own],
  ];
  test.each(ways)('%s', (condition, holds) => {
    for (const least of [1, LONG])
      fc.assert(
        fc.property(lists(least), ([names, rows]) => {
          const found = (asks: Row): number[] => names.flatMap((one, i) => (holds(one, asks) ? [i] : []));
          expect(paths(condition, names, rows)).toEqual(rows.map((asks) => String(found(asks)[0] ?? -1)));
        }),
        { numRuns: 12 },
      );
  });

  test('all of them, in their order', () => {
    const names = Array.from({ length: 200 }, (_, i): Row => [1 + (i % 50), i % 4]);
    expect(
      paths(
        'id == outer.means',
        names,
        [
          [7, 0],
          [99, 0],
        ],
        'where',
      ),
    ).toEqual(['HC+HA+HC+HA', 'unnamed/1']);
  });
});

test('what cannot be asked of every item is asked of those before the one that is found', () => {
  // 100 / id is senseless for the last.
  const names = Array.from({ length: 100 }, (_, i): Row => [i === 99 ? 0 : i + 1, 0]);
  expect(
    paths('part == outer.means', names, [
      [50, 0],
      [100, 0],
    ]),
  ).toEqual(['1', '0']);
  expect(() => paths('part == outer.means', names, [[77, 0]])).toThrow(FormatError);
});

test('who cannot be asked is not asked where the condition says so before', () => {
  const names = Array.from({ length: 100 }, (_, i): Row => [i + 1, 0]);
  const condition = 'outer.sort == 1 and id == 100 / outer.means';
  expect(
    paths(condition, names, [
      [50, 1],
      [0, 0],
    ]),
  ).toEqual(['1', '-1']);
  expect(() => paths(condition, names, [[0, 1]])).toThrow(FormatError);
});

test('bytes are compared each time, beside numbers too', () => {
  const names = Array.from({ length: 100 }, (_, i): Row => [i + 1, i % 2]);
  const condition = 'if(sort == 1, raw, id) == outer.means';
  expect(
    paths(condition, names, [
      [5, 0],
      [6, 0],
    ]),
  ).toEqual(['4', '-1']);
  expect(paths("raw == hex('0600')", names, [[1, 0]])).toEqual(['5']);
});

test('twenty thousand rows are found among as many, within the steps that any script may take', () => {
  const names = Array.from({ length: 20_000 }, (_, i): Row => [i + 1, 0]);
  const rows = names.map(([id]): Row => [20_001 - id, 0]);
  const found = paths('id == outer.means', names, rows);
  expect([found[0], found[1], found.at(-1)]).toEqual(['19999', '19998', '0']);
});
