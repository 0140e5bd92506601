import { describe, expect, test } from '@jest/globals';
import { parseScript } from '@/core/script';
import { whyNot } from '@/core/testing/failure';
import { nodePrimitives } from '@/platform/node/primitives';
import { describedData } from './described-table';
import { writeDescribedCells, type TableEdit } from './edit';

const script = parseScript(`format script: 1
title: Scenes
recognise: [{ at: 0, text: SCNE }]
records:
  head:
    tag: { type: text(4), fixed: SCNE }
    count: { type: u16, derived: count(rows) }
  row:
    id: u16
    near: { type: u8, derived: count(beside) }
    beside: { type: u16, count: near }
    parts: { type: u8, derived: count(made) }
    made: { type: piece, count: parts }
    room: { type: u8, derived: size(steps) }
    steps: bytes(room)
  piece: { what: u8, name: ztext, more: { type: u8, if: what > 5 } }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }
entries: { each: rows, path: text(position), payload: { at: '0', size: '0' } }
table:
  name: "'scenes'"
  columns: { id: id, beside: beside, made: made, steps: steps, first: 'made[0].name' }
`);

const bytes = Uint8Array.from([
  ...Buffer.from('SCNE'),
  ...[2, 0],
  ...[1, 0, 2, 44, 1, 7, 0, 1, 6, ...Buffer.from('oar\0'), 9, 3, 1, 2, 3],
  ...[2, 0, 0, 1, 0, ...Buffer.from('a\0'), 0],
]);
const rowsOf = (of: Uint8Array): unknown[][] => {
  const { columns, count } = describedData(script, of, 'a.scenes', nodePrimitives);
  return Array.from({ length: count }, (_, row) => columns.map(({ cells }) => cells[row]));
};
const edit = (row: number, column: string, value: TableEdit['value']): TableEdit => ({
  ...{ table: 'scenes', row, column, within: [], value },
});
const write = (of: Uint8Array, ...edits: TableEdit[]): Uint8Array =>
  writeDescribedCells(script, of, 'a.scenes', nodePrimitives, edits);

describe('columns of a table that a script describes', () => {
  test('are lists, records by the names of their fields, and bytes', () => {
    expect(rowsOf(bytes)).toEqual([
      [
        1,
        [300, 7],
        [
          new Map<string, unknown>([
            ['what', 6],
            ['name', 'oar'],
            ['more', 9],
          ]),
        ],
        Uint8Array.of(1, 2, 3),
        'oar',
      ],
      [
        2,
        [],
        [
          new Map<string, unknown>([
            ['what', 0],
            ['name', 'a'],
          ]),
        ],
        new Uint8Array(),
        'a',
      ],
    ]);
  });

  test('of bytes get others, longer and shorter, and the length before them follows', () => {
    const longer = write(
      bytes,
      edit(0, 'steps', Uint8Array.of(1, 2, 3, 4, 5)),
      edit(1, 'steps', Uint8Array.of(9)),
    );
    expect(rowsOf(longer).map((row) => row[3])).toEqual([Uint8Array.of(1, 2, 3, 4, 5), Uint8Array.of(9)]);
    expect(longer.length).toBe(bytes.length + 3);
    const back = write(longer, edit(0, 'steps', Uint8Array.of(1, 2, 3)), edit(1, 'steps', new Uint8Array()));
    expect(Buffer.from(back).equals(Buffer.from(bytes))).toBe(true);
    expect(whyNot(() => write(bytes, edit(0, 'steps', new Uint8Array(256))))).toMatch(/room|steps/);
    expect(whyNot(() => write(bytes, edit(0, 'steps', 'text')))).toMatch(/a value of its sort/);
    expect(whyNot(() => write(bytes, edit(0, 'id', Uint8Array.of(1))))).toMatch(/a value of its sort/);
    expect(whyNot(() => write(bytes, edit(0, 'beside', [1])))).toMatch(/a field that the row carries/);
  });
});

test('records that hold others of their own kind say a bounded number of paths', () => {
  const fields = Array.from({ length: 12 }, (_, i) => `f${i}: { type: node, count: n }`).join(', ');
  const deep = parseScript(`format script: 1
title: Deep
recognise: [{ at: 0, text: DEEP }]
records:
  head: { tag: { type: text(4), fixed: DEEP } }
  node: { n: u8, ${fields} }
parts: { head: { type: head, at: 0 }, rows: { type: node, at: end(head), count: '1' } }
entries: { each: rows, path: text(position), payload: { at: '0', size: '0' } }
table: { columns: { n: n, f0: f0 } }
`);
  const bytes = Uint8Array.from([...Buffer.from('DEEP'), 1, ...new Uint8Array(12)]);
  const { writable, columns } = describedData(deep, bytes, 'a.deep', nodePrimitives);
  expect(writable!.size).toBeLessThan(2100);
  expect(columns[1]!.cells[0]).toHaveLength(1);
});
