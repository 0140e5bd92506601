import { describe, expect, test } from '@jest/globals';
import { encode as encodePack } from '@msgpack/msgpack';
import { encode as encodeCbor } from 'cborg';
import fc from 'fast-check';
import { FormatError } from '@/core/bytes';
import { mediaScripts } from '@/core/testing/media-scripts';
import { typeOfHead } from '@/core/kinds';
import { nodePrimitives } from '@/platform/node/primitives';
import {
  describedData,
  fieldsOf,
  mergeSingles,
  readOpenTables,
  tableAsCsv,
  tableAsJson,
  titleColumn,
  titleOf,
} from '.';
import { plainRow } from './spell-out';

const read = (text: string, name: string) => readOpenTables(new Uint8Array(Buffer.from(text)), name);
const rowsOf = (text: string, name: string) => {
  const { tables } = read(text, name)!;
  return Array.from({ length: tables[0]!.count }, (_, row) => plainRow(tables[0]!, row));
};
const GOODS = [
  { id: 1, name: 'oil', from: [{ item: 2, count: 3 }] },
  { id: 2, name: 'ink', weight: 0.5 },
];

describe('a table is read alike from every open form', () => {
  const packed = { 'a.msgpack': encodePack(GOODS), 'a.cbor': encodeCbor(GOODS) };
  test.each([
    ...Object.entries(packed),
    ['a.json', Buffer.from(JSON.stringify(GOODS))] as const,
    [
      'a.yaml',
      Buffer.from('- {id: 1, name: oil, from: [{item: 2, count: 3}]}\n- {id: 2, name: ink, weight: 0.5}\n'),
    ] as const,
  ])('%s', (name, bytes) => {
    const { tables } = readOpenTables(new Uint8Array(bytes), name)!;
    expect(tables).toHaveLength(1);
    expect([0, 1].map((row) => plainRow(tables[0]!, row))).toEqual(GOODS);
  });

  test('CSV with a heading, or without', () => {
    expect(rowsOf('id,name\n1,oil\n2,007\n', 'a.csv')).toEqual([
      { id: 1, name: 'oil' },
      { id: 2, name: '007' },
    ]);
    expect(rowsOf('1,oil\n2,ink\n', 'a.csv')[0]).toEqual({ 'column 1': 1, 'column 2': 'oil' });
  });

  test('INI, and records under names of their own', () => {
    expect(rowsOf('[oil]\nweight=2\n[ink]\nweight=3\n', 'a.ini')).toEqual([
      { 'name of the row': 'oil', weight: '2' },
      { 'name of the row': 'ink', weight: '3' },
    ]);
    expect(rowsOf('{"oil": {"w": 1}, "ink": {"w": 2}}', 'a.json')[1]).toEqual({
      'name of the row': 'ink',
      w: 2,
    });
  });

  test('several tables of a document, and what stands beside them', () => {
    const { tables } = read(
      '{"version": 3, "items": [{"id": 1}, {"id": 2}], "deep": {"boats": [{"n": 1}, {"n": 2}]}}',
      'a.json',
    )!;
    expect(tables.map(({ name, count }) => [name, count])).toEqual([
      ['', 1],
      ['items', 2],
      ['deep.boats', 2],
    ]);
  });

  test('CBOR says itself what it is; tags and lengths that are not told are read', () => {
    const bytes = Uint8Array.from([0xd9, 0xd9, 0xf7, 0x9f, 0xbf, 0x61, 0x61, 0xc1, 0x18, 0x64, 0xff, 0xff]);
    expect(typeOfHead(bytes)).toEqual({ kind: 'table', ending: 'cbor' });
    const { tables } = readOpenTables(bytes, 'any')!;
    expect(plainRow(tables[0]!, 0)).toEqual({ a: 100 });
  });
});

describe('what is no table, or a broken one', () => {
  test.each([
    ['deep lists', new Uint8Array(200_000).fill(0x81), 'a.cbor', /within each other/],
    ['a length beyond its end', Uint8Array.from([0x9b, 0, 0, 0, 1, 0, 0, 0, 0, 1]), 'a.cbor', /CBOR/],
    [
      'ten million rows that are not there',
      Uint8Array.from([0x9a, 0, 0x98, 0x96, 0x80, 0xa0]),
      'a.cbor',
      /CBOR/,
    ],
    ['nothing', new Uint8Array(0), 'a.cbor', /CBOR/],
    [
      'a length beyond its end',
      Uint8Array.from([0xdd, 0xff, 0xff, 0xff, 0xff, 1]),
      'a.msgpack',
      /MessagePack/,
    ],
    ['a bracket too few', new Uint8Array(Buffer.from('[{"a": 1}')), 'a.json', /JSON/],
    [
      'deep brackets',
      new Uint8Array(Buffer.from('['.repeat(5000) + ']'.repeat(5000))),
      'a.json',
      /within each other/,
    ],
    ['a bomb of aliases', new Uint8Array(Buffer.from(bomb())), 'a.yaml', /YAML/],
  ])('%s is refused with what and where: %#', (_, bytes, name, why) => {
    expect(() => readOpenTables(bytes, name)).toThrow(FormatError);
    expect(() => readOpenTables(bytes, name)).toThrow(why);
  });

  test('a text is none', () => {
    expect(read('Once upon a time.', 'a.txt')).toBeUndefined();
    expect(read('{ not JSON', 'a.txt')).toBeUndefined();
    expect(readOpenTables(Uint8Array.from([0, 1, 2, 255]), 'a.bin')).toBeUndefined();
  });

  test('names in records have no meaning of their own', () => {
    expect(rowsOf('[{"__proto__": {"x": 1}, "constructor": 2}, {"constructor": 3}]', 'a.json')[1]).toEqual({
      constructor: 3,
    });
    expect(({} as { x?: number }).x).toBeUndefined();
  });

  function bomb(): string {
    const lines = ['a: &a [x, x, x, x, x, x, x, x, x]'];
    for (let i = 1; i < 9; i++) {
      const [own, last] = [String.fromCharCode(97 + i), String.fromCharCode(96 + i)];
      lines.push(`${own}: &${own} [${Array<string>(9).fill(`*${last}`).join(', ')}]`);
    }
    return lines.join('\n');
  }
});

test('any records come back as JSON as they were', () => {
  const cell = fc.oneof(fc.integer(), fc.string(), fc.boolean(), fc.array(fc.integer(), { maxLength: 3 }));
  fc.assert(
    fc.property(
      fc.array(fc.dictionary(fc.stringMatching(/^[a-z]{1,4}$/), cell, { minKeys: 1 }), {
        minLength: 1,
        maxLength: 8,
      }),
      (records) => {
        const { tables } = read(JSON.stringify(records), 'a.json')!;
        expect(JSON.parse(tableAsJson(tables[0]!))).toEqual(records);
        const packed = readOpenTables(new Uint8Array(encodeCbor(records)), 'a.cbor')!;
        expect(JSON.parse(tableAsJson(packed.tables[0]!))).toEqual(records);
      },
    ),
  );
});

test('formulas are none in CSV', () => {
  expect(tableAsCsv(read('[{"a": "=1+1"}, {"a": "x"}]', 'a.json')!.tables[0]!)).toBe(`a\n"'=1+1"\nx\n`);
});

test('fields reach into lists and records', () => {
  const fields = fieldsOf(read(JSON.stringify(GOODS), 'a.json')!.tables[0]!);
  expect(
    fields.map(({ path, filled, isSingle, numbers, texts }) => [path, filled, isSingle, [...numbers], texts]),
  ).toEqual([
    ['id', 2, true, [1, 2], []],
    ['name', 2, true, [], ['oil', 'ink']],
    ['from[].item', 1, false, [2], []],
    ['from[].count', 1, false, [3], []],
    ['weight', 1, true, [0.5], []],
  ]);
});

test('files of one row each are one table, a row a file', () => {
  const of = (path: string, text: string) => ({
    file: path,
    path,
    form: 'JSON',
    table: read(text, path)!.tables[0]!,
  });
  const made = mergeSingles([
    of('scenes/jetty.scene', '{"fog": 1, "who": "odd"}'),
    of('scenes/market.scene', '{"fog": 2}'),
    of('scenes/other.json', '{"fog": 3}'),
    of('items.json', '[{"id": 1}, {"id": 2}]'),
  ]);
  expect(made.map(({ path, table }) => [path, table.count])).toEqual([
    ['items.json', 2],
    ['scenes/*.scene', 2],
    ['scenes/other.json', 1],
  ]);
  const scenes = made[1]!.table;
  expect(plainRow(scenes, 1)).toEqual({ 'name of the row': 'market', fog: 2 });
  expect(titleOf(scenes, 0, titleColumn(scenes), undefined, 'scenes/*.scene')).toBe('jetty');
});

test('a table of a game’s own, by its script', () => {
  const script = mediaScripts.get('boats')!;
  const bytes = new Uint8Array(
    Buffer.concat([
      Buffer.from('BOAT\x02\0'),
      Buffer.from([7, 0, 100]),
      Buffer.from('ferry'),
      Buffer.from([8, 0, 101]),
      Buffer.from('punt\0'),
    ]),
  );
  const table = describedData(script, bytes, 'boats.dat', nodePrimitives);
  expect([0, 1].map((row) => plainRow(table, row))).toEqual([
    { id: 7, keeper: 100, name: 'ferry' },
    { id: 8, keeper: 101, name: 'punt' },
  ]);
  expect(() => describedData(script, bytes.slice(0, 15), 'boats.dat', nodePrimitives)).toThrow(FormatError);
});
