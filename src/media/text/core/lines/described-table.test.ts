import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import zlib from 'node:zlib';
import { mediaScripts } from '@/core/testing/media-scripts';
import { nodePrimitives } from '@/platform/node/primitives';
import { describedTable, type LineTable } from '.';

/** The tables of docs/media-scripts.md: texts in a pool behind a table of places, and texts that are records by themselves. */
const POOLED = mediaScripts.get('sayings')!;

interface Row {
  readonly id: number;
  readonly tongue: number;
  readonly text: string;
}

function pooled(rows: readonly Row[]): Uint8Array {
  const texts = rows.map(({ text }) => Buffer.from(`${text}\0`, 'utf16le'));
  const head = Buffer.alloc(12 + 16 * rows.length);
  head.write('SAYS');
  head.writeUInt32LE(rows.length, 4);
  let at = head.length;
  const pool: Buffer[] = [];
  rows.forEach(({ id, tongue }, i) => {
    const place = 12 + 16 * i;
    head.writeUInt32LE(id, place);
    head.writeUInt8(tongue, place + 4);
    head.writeUInt8(id % 2, place + 5);
    head.writeUInt16LE(id === 7 ? 12 : 0, place + 6);
    head.writeUInt32LE(at, place + 8);
    head.writeUInt32LE(texts[i]!.length, place + 12);
    const padding = Buffer.alloc((4 - (texts[i]!.length % 4)) % 4);
    pool.push(texts[i]!, padding);
    at += texts[i]!.length + padding.length;
  });
  head.writeUInt32LE(zlib.crc32(head.subarray(12)), 8);
  return new Uint8Array(Buffer.concat([head, ...pool]));
}

const open = (bytes: Uint8Array): LineTable => describedTable(POOLED, bytes, 'a.says', nodePrimitives);
const ROWS: readonly Row[] = [
  { id: 7, tongue: 0, text: 'Mind the plank.' },
  { id: 7, tongue: 1, text: 'Achtung, Planke.' },
  { id: 12, tongue: 0, text: 'Krrr. 🪶' },
  { id: 12, tongue: 0, text: 'said twice' },
];

test('a table in a pool, by keys, languages, speakers and limits', () => {
  const table = open(pooled(ROWS));
  expect(table).toMatchObject({ form: 'Sayings', tongues: ['en', 'de'] });
  expect(table.lines).toEqual([
    {
      ...{ key: '7', speaker: 'Odd', note: 'on a sign', limit: { most: 12, unit: 'characters' } },
      texts: ['Mind the plank.', 'Achtung, Planke.'],
    },
    { key: '12', speaker: '', note: '', texts: ['Krrr. 🪶', undefined] },
    { key: '12', speaker: '', note: '', texts: ['said twice', undefined] },
  ]);
  expect(table.bytesOf('Kai')).toBe(6);
  expect(table.write([])).toEqual(pooled(ROWS));
});

test('shorter, longer and empty texts are written as the program of the game would', () => {
  const table = open(pooled(ROWS));
  const changed = ROWS.map((row) => ({ ...row, text: row.tongue === 1 ? '' : `${row.text} And more.` }));
  const made = table.write([
    { line: 0, tongue: 0, text: 'overruled' },
    { line: 0, tongue: 0, text: 'Mind the plank. And more.' },
    { line: 0, tongue: 1, text: '' },
    { line: 1, tongue: 0, text: 'Krrr. 🪶 And more.' },
    { line: 2, tongue: 0, text: 'said twice And more.' },
  ]);
  expect(open(made).lines.map(({ texts }) => texts)).toEqual(
    open(pooled(changed)).lines.map(({ texts }) => texts),
  );
  expect(made.length).toBe(pooled(changed).length);
});

test('any texts come back as they were given', () => {
  const said = fc.string({ unit: 'grapheme', maxLength: 30 }).map((text) => text.replace(/\0/g, ''));
  fc.assert(
    fc.property(fc.array(said, { minLength: 4, maxLength: 4 }), ([a, b, c, d]) => {
      const made = open(pooled(ROWS)).write([
        { line: 0, tongue: 0, text: a! },
        { line: 0, tongue: 1, text: b! },
        { line: 1, tongue: 0, text: c! },
        { line: 2, tongue: 0, text: d! },
      ]);
      expect(open(made).lines.map(({ texts }) => texts)).toEqual([
        [a, b],
        [c, undefined],
        [d, undefined],
      ]);
    }),
  );
});

test('a line gets a text in a language of the table that it has not had; no line is added by its number', () => {
  const table = open(pooled(ROWS));
  const made = open(table.write([{ line: 1, tongue: 1, text: 'Neu' }]));
  expect(made.lines.map(({ texts }) => texts)).toEqual([
    ['Mind the plank.', 'Achtung, Planke.'],
    ['Krrr. 🪶', 'Neu'],
    ['said twice', undefined],
  ]);
  expect(() => table.write([], [{ key: '99', texts: ['x'] }])).toThrow(/called by their paths/);
});

describe('bytes that are not as the script says', () => {
  test.each([
    [
      'a text without its zero',
      (bytes: Uint8Array) => (bytes[bytes.length - 4] = 1),
      /bytes of zero at its end/,
    ],
    ['a place outside', (bytes: Uint8Array) => (bytes[20] = 0xff), /place|check|crc32/],
    ['a wrong check', (bytes: Uint8Array) => (bytes[8]! ^= 1), /check/],
  ])('%s', (_, damage, said) => {
    const bytes = pooled([{ id: 2, tongue: 0, text: 'ab' }, ...ROWS.slice(1)]);
    damage(bytes);
    expect(() => open(bytes)).toThrow(said);
  });
});

/** Texts of single bytes that are records by themselves: lines are called by their paths, so that some can be added. */
const LISTED = mediaScripts.get('roll')!;

test('lines are added to a table whose script says how they are called', () => {
  const bytes = new Uint8Array(Buffer.from('ROLL\x02\0a\0\x02\0xyb\0\0\0', 'latin1'));
  const table = describedTable(LISTED, bytes, 'a.roll', nodePrimitives);
  expect(table.lines.map(({ key, texts }) => [key, texts[0]])).toEqual([
    ['a', 'xy'],
    ['b', ''],
  ]);
  const made = table.write([{ line: 1, tongue: 0, text: 'Fähre …' }], [{ key: 'c', texts: ['new'] }]);
  const again = describedTable(LISTED, made, 'a.roll', nodePrimitives);
  expect(again.lines.map(({ key, texts }) => [key, texts[0]])).toEqual([
    ['a', 'xy'],
    ['b', 'Fähre …'],
    ['c', 'new'],
  ]);
  expect(() => table.write([{ line: 0, tongue: 0, text: '渡' }])).toThrow(/windows-1252/);
});
