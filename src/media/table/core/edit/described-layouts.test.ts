import { describe, expect, test } from '@jest/globals';
import zlib from 'node:zlib';
import { parseScript } from '@/core/script';
import { whyNot } from '@/core/testing/failure';
import { nodePrimitives } from '@/platform/node/primitives';
import type { Place } from '../data-table';
import { describedData } from '../described-table';
import { plainRow } from '../spell-out';
import { writeDescribedCells, writeDescribedItem } from './index';

/** A value that a cell gets, and what the file is then, in hexadecimal digits; or why not. */
type Case = readonly [column: string, within: Place, value: number | string, wanted: string | RegExp];
/** An item that is doubled or taken out. */
type ItemCase = readonly [within: Place, at: number, does: 'copy' | 'remove', wanted: string | RegExp];

const two = (number: number): string => number.toString(16).padStart(4, '0');
/** A deflated stretch behind its length, that of what is in it, and a count. */
function packed(count: number, hex: string): string {
  const made = zlib.deflateRawSync(Buffer.from(hex, 'hex')).toString('hex');
  return `${two(made.length / 2)}${two(hex.length / 2)}0${count}${made}`;
}

/** Other layouts of a list `v`: the fields of a row, a record that they use, and a file of one row. */
const LAYOUTS: Record<
  string,
  readonly [row: string, records: string, file: string, cells: readonly Case[], items: readonly ItemCase[]]
> = {
  'numbers of varying length': [
    'n: { type: uleb, derived: count(v) }, v: { type: uleb, count: n }',
    '',
    '02058001',
    [
      ['v', [0], 300, '02ac028001'],
      ['v', [1], 3, '020503'],
    ],
    [
      [[], 0, 'copy', '0305058001'],
      [[], 0, 'remove', '018001'],
    ],
  ],
  'up to one that says it is the last': [
    'v: { type: p, until: x == 0 }',
    'p: { x: u16 }',
    '000500060000',
    [
      ['v', [0, 'x'], 300, '012c00060000'],
      ['v', [1, 'x'], 0, /read|ends|rows/],
    ],
    [
      [[], 0, 'copy', '0005000500060000'],
      [[], 1, 'remove', '00050000'],
    ],
  ],
  'to the end': [
    'v: { type: u16, count: rest }',
    '',
    '00050006',
    [['v', [1], 7, '00050007']],
    [[[], 1, 'copy', '000500060006']],
  ],
  'a stretch that says its bytes': [
    's: { type: u16, derived: size(v) }, v: { type: u16, count: rest, size: s }',
    '',
    '000400050006',
    [['v', [0], 300, '0004012c0006']],
    [
      [[], 0, 'copy', '0006000500050006'],
      [[], 1, 'remove', '00020005'],
    ],
  ],
  'a packed stretch with records': [
    's: { type: u16, derived: size(v) }, z: { type: u16, derived: size(plain(v)) }, n: { type: u8, derived: count(v) }, v: { type: p, count: n, size: s, seal: [{ deflate: { size: z } }] }',
    'p: { x: u16, t: ztext }',
    packed(1, '00056100'),
    [
      ['v', [0, 't'], 'longer', packed(1, '00056c6f6e67657200')],
      ['v', [0, 'x'], 70_000, /x.*65535|does not fit/s],
    ],
    [[[], 0, 'copy', packed(2, '0005610000056100')]],
  ],
  'a stretch with a record that has a list': [
    's: { type: u16, derived: size(v) }, v: { type: p, size: s }',
    'p: { n: { type: u8, derived: count(w) }, w: { type: ztext, count: n } }',
    '0005026100' + '6200',
    [['v', ['w', 0], 'oars', '0008026f6172730062' + '00']],
    [[['w'], 1, 'remove', '0003016100']],
  ],
  'parts of a number': [
    'n: { type: u8, derived: count(v) }, v: { type: p, count: n }',
    'p: { m: { type: u8, bits: { low: 4, high: 4 } }, x: u8 }',
    '012109',
    [
      ['v', [0, 'low'], 5, '012509'],
      ['v', [0, 'high'], 15, '01f109'],
      ['v', [0, 'high'], 16, /high|15|not fit/],
      ['v', [0, 'm'], 1, /carries/],
    ],
    [[[], 0, 'copy', '0221092109']],
  ],
  'there only sometimes': [
    'k: u8, many: { type: u8, derived: count(v), if: k > 0 }, v: { type: u8, count: many, if: k > 0 }',
    '',
    '01020506',
    [
      ['v', [0], 9, '01020906'],
      ['k', [], 0, /cannot be written|script is wrong|has to be|does not hold|ends too early/],
    ],
    [[[], 0, 'remove', '010106']],
  ],
  'numbers with names': [
    'n: { type: u8, derived: count(v) }, v: { type: u8, count: n, enum: e }',
    '',
    '020102',
    [['v', [0], 2, '020202']],
    [[[], 1, 'copy', '03010202']],
  ],
  'floats of four bytes': [
    'n: { type: u8, derived: count(v) }, v: { type: f32, count: n }, f: f32',
    '',
    '013f8000003f800000',
    [
      ['v', [0], 0.1, '013dcccccd3f800000'],
      ['f', [], 0.1, '013f8000003dcccccd'],
    ],
    [[[], 0, 'remove', '003f800000']],
  ],
  'numbers beyond 53 bits': [
    'n: { type: u8, derived: count(v) }, v: { type: u64, count: n }',
    '',
    '01ff00000000000001',
    [['v', [0], 5, '010000000000000005']],
    [[[], 0, 'copy', '02ff00000000000001ff00000000000001']],
  ],
  'one of several sorts': [
    'k: u8, v: { type: { by: k, cases: { 0: p, 1: q } } }',
    'p: { x: u8 }\n  q: { y: u16 }',
    '0009',
    [['v', ['x'], 5, '0005']],
    [],
  ],
};

describe.each(Object.entries(LAYOUTS))('a list or record: %s', (_, [row, records, file, cells, items]) => {
  const script = parseScript(`format script: 1
title: Layouts
recognise: [{ at: 0, text: TEST }]
byte order: big
enums: { e: { a: 1, b: 2 } }
records:
  head: { tag: { type: text(4), fixed: TEST }, count: { type: u16, derived: count(rows) } }
  row: { id: u16, ${row} }
  ${records}
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }
entries: { each: rows, path: text(position), payload: { at: '0', size: '0' } }
table: { name: "'t'", columns: { id: id, v: v${row.includes('k: u8') ? ', k: k' : ''}${row.includes('f: f32') ? ', f: f' : ''} } }
`);
  const HEAD = `${Buffer.from('TEST').toString('hex')}00010007`;
  const bytes = Uint8Array.from(Buffer.from(HEAD + file, 'hex'));
  const held = (wanted: string | RegExp, work: () => Uint8Array): void => {
    if (typeof wanted === 'string') expect(Buffer.from(work()).toString('hex')).toBe(HEAD + wanted);
    else expect(whyNot(work)).toMatch(wanted);
  };
  const set = (of: Uint8Array, column: string, within: Place, value: number | string): Uint8Array =>
    writeDescribedCells(script, of, 'a.t', nodePrimitives, [{ table: 't', row: 0, column, within, value }]);

  test.each(cells)('%s %j becomes %s', (column, within, value, wanted) => {
    const before = JSON.stringify(plainRow(describedData(script, bytes, 'a.t', nodePrimitives), 0));
    held(wanted, () => set(bytes, column, within, value));
    // What was read is as it was.
    expect(JSON.stringify(plainRow(describedData(script, bytes, 'a.t', nodePrimitives), 0))).toBe(before);
  });

  test('what can be changed is said', () => {
    const { writable } = describedData(script, bytes, 'a.t', nodePrimitives);
    for (const [column, within, , wanted] of cells)
      if (typeof wanted === 'string')
        expect([...writable!]).toContain(
          [column, ...within.map((step) => (typeof step === 'number' ? '[]' : `.${step}`))].join(''),
        );
  });

  test('items come and go', () => {
    for (const [within, at, does, wanted] of items)
      held(wanted, () =>
        writeDescribedItem(script, bytes, 'a.t', nodePrimitives, {
          table: 't',
          row: 0,
          column: 'v',
          within,
          at,
          does,
        }),
      );
    expect(whyNot(() => set(bytes, 'v', [99], 1))).toMatch(/carries/);
  });
});
