import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { crc32 } from 'node:zlib';
import { parseScript } from '@/core/script';
import { mediaScripts } from '@/core/testing/media-scripts';
import { nodePrimitives } from '@/platform/node/primitives';
import { describedData } from '../described-table';
import { plainRow } from '../spell-out';
import {
  describedForms,
  mergeCells,
  writeDescribedCells,
  writeDescribedRow,
  type RowEdit,
  type TableEdit,
} from './index';
import { failure } from '@/core/testing/failure';

const edit = (row: number, column: string, value: TableEdit['value'], table = 'ledger'): TableEdit => ({
  ...{ table, row, column, within: [], value },
});
/** Rows as a list of records (`row`), or as a table of many whose rows are not held. */
const ledger = (rows: string): string => `format script: 1
title: Ledger
recognise: [{ at: 0, text: LEDG }]
records:
  head:
    tag: { type: text(4), fixed: LEDG }
    count: { type: u32, derived: count(rows) }
    check: { type: u32, derived: crc32(stored(rows)) }
  row: ${rows}
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }
entries: { each: rows, path: text(position), payload: { at: '0', size: '0' } }
table:
  name: "'ledger'"
  columns: { id: id, price: price, name: name, double: price * 2 }
`;
const FIXED = '{ id: u16, price: u32, name: text(6) }';
const LENGTHS = '{ id: u16, price: u32, length: { type: u8, derived: length(name) }, name: text(length) }';

const NAMES = ['oil', 'ink', 'rope'];
/** The bytes that a game would have, made without the script. */
function made(hasLengths: boolean, prices = [4, 500, 70_000], names = NAMES): Uint8Array {
  const rows = names.map((name, i) => {
    const row = Buffer.alloc(hasLengths ? 7 + name.length : 12);
    row.writeUInt16LE(i + 1, 0);
    row.writeUInt32LE(prices[i]!, 2);
    if (hasLengths) row.writeUInt8(name.length, 6);
    row.write(name, hasLengths ? 7 : 6, 'latin1');
    return row;
  });
  const body = Buffer.concat(rows);
  const head = Buffer.from('LEDG\0\0\0\0\0\0\0\0', 'latin1');
  head.writeUInt32LE(names.length, 4);
  head.writeUInt32LE(crc32(body), 8);
  return new Uint8Array(Buffer.concat([head, body]));
}

describe.each([
  ['rows of one length', FIXED, false],
  ['rows whose texts have their lengths before them', LENGTHS, true],
] as const)('%s', (_title, row, hasLengths) => {
  const script = parseScript(ledger(row));
  const write = (bytes: Uint8Array, ...edits: TableEdit[]): Uint8Array =>
    writeDescribedCells(script, bytes, 'a.ledger', nodePrimitives, edits);

  test('have other values, and sums and lengths that follow from them', () => {
    const bytes = made(hasLengths);
    const { writable } = describedData(script, bytes, 'a.ledger', nodePrimitives);
    expect([...writable!]).toEqual(['id', 'price', 'name']);
    expect(Buffer.from(write(bytes, edit(1, 'price', 9)))).toEqual(
      Buffer.from(made(hasLengths, [4, 9, 70_000])),
    );
    expect(
      Buffer.from(write(bytes, edit(0, 'name', 'tar'), edit(2, 'price', 1), edit(2, 'price', 2))),
    ).toEqual(Buffer.from(made(hasLengths, [4, 500, 2], ['tar', 'ink', 'rope'])));
  });

  test('whatever is written is read, and written back gives the bytes that were', () => {
    const bytes = made(hasLengths);
    fc.assert(
      fc.property(fc.nat(2), fc.nat(0xffffffff), fc.stringMatching(/^[a-z]{1,6}$/), (at, price, name) => {
        const now = write(bytes, edit(at, 'price', price), edit(at, 'name', name));
        const table = describedData(script, now, 'a.ledger', nodePrimitives);
        expect(plainRow(table, at)).toMatchObject({ id: at + 1, price, name, double: price * 2 });
        const back = write(now, edit(at, 'price', [4, 500, 70_000][at]!), edit(at, 'name', NAMES[at]!));
        expect(Buffer.from(back)).toEqual(Buffer.from(bytes));
      }),
      { numRuns: 30 },
    );
  });

  test('of two mods are put together, with sums that follow, unless a row is gone', () => {
    const bytes = made(hasLengths);
    const changes = [
      write(bytes, edit(0, 'price', 5)),
      write(bytes, edit(0, 'name', 'tar'), edit(2, 'price', 6)),
    ];
    const forms = describedForms(script, 'a.ledger', nodePrimitives);
    const merged = mergeCells(bytes, changes, forms)!;
    expect(Buffer.from(merged.bytes)).toEqual(
      Buffer.from(made(hasLengths, [5, 500, 6], ['tar', 'ink', 'rope'])),
    );
    expect(merged).toMatchObject({ taken: [1, 2], clashes: [] });
    const shorter = made(hasLengths, [4, 500], ['oil', 'ink']);
    expect(mergeCells(bytes, [changes[0]!, shorter], forms)).toBeUndefined();
  });

  test('get a row like another one, with a key and cells of its own, and lose one', () => {
    const bytes = made(hasLengths);
    const row = (of: Uint8Array, does: RowEdit['does'], at: number, id?: number): Uint8Array =>
      writeDescribedRow(script, of, 'a.ledger', nodePrimitives, {
        ...{ table: 'ledger', row: at, does },
        ...(id !== undefined && { key: { column: 'id', value: id } }),
      });
    const more = row(bytes, 'copy', 1, 4);
    expect(Buffer.from(more)).toEqual(
      Buffer.from(made(hasLengths, [4, 500, 70_000, 500], [...NAMES, 'ink'])),
    );
    const told = write(more, edit(3, 'name', 'tallow'), edit(3, 'price', 9));
    expect(Buffer.from(told)).toEqual(
      Buffer.from(made(hasLengths, [4, 500, 70_000, 9], [...NAMES, 'tallow'])),
    );
    // The second after the first, and back again.
    const twice = row(row(told, 'copy', 0, 5), 'remove', 4);
    expect(Buffer.from(twice)).toEqual(Buffer.from(told));
    expect(Buffer.from(row(more, 'remove', 3))).toEqual(Buffer.from(bytes));
    const rest = plainRow(
      describedData(script, row(row(bytes, 'remove', 0), 'remove', 0), 'a.ledger', nodePrimitives),
      0,
    );
    expect(rest).toMatchObject({ id: 3, name: 'rope' });
    const one = row(row(bytes, 'remove', 0), 'remove', 0);
    expect(failure(() => row(one, 'remove', 0)).message).toMatch(/the only row/);
    expect(failure(() => row(bytes, 'copy', 9)).facts.fieldPath).toBe('ledger, row 10');
    expect(failure(() => row(bytes, 'copy', 0, -1)).message).toMatch(/id|0 to 65535/);
  });

  test('refuse what does not fit, is of another sort, or is worked out', () => {
    const bytes = made(hasLengths);
    expect(failure(() => write(bytes, edit(0, 'price', 2 ** 32))).message).toMatch(/price/);
    expect(failure(() => write(bytes, edit(0, 'price', -1))).message).toMatch(/price/);
    expect(failure(() => write(bytes, edit(0, 'price', 1.5))).facts.fieldPath).toBe('ledger, row 1, price');
    expect(failure(() => write(bytes, edit(0, 'price', 'dear'))).code).toBe('not-writable');
    expect(failure(() => write(bytes, edit(0, 'double', 10))).code).toBe('not-writable');
    expect(failure(() => write(bytes, edit(9, 'price', 10))).facts.fieldPath).toBe('ledger, row 10, price');
    if (!hasLengths)
      expect(failure(() => write(bytes, edit(0, 'name', 'too long a name'))).message).toMatch(/name/);
  });
});

test('rows that are called by what is changed, also twice', () => {
  const script = mediaScripts.get('boats')!;
  const boats = (...rows: readonly [id: number, keeper: number, name: string][]): Uint8Array =>
    new Uint8Array(
      Buffer.concat([
        Buffer.from(['BOAT'.charCodeAt(0), ...Buffer.from('OAT'), rows.length, 0]),
        ...rows.map(([id, keeper, name]) =>
          Buffer.concat([Buffer.from([id, 0, keeper]), Buffer.from(name.padEnd(5, '\0'))]),
        ),
      ]),
    );
  const write = (bytes: Uint8Array, ...edits: TableEdit[]): Buffer =>
    Buffer.from(writeDescribedCells(script, bytes, 'boats.dat', nodePrimitives, edits));
  const before = boats([7, 100, 'ferry'], [8, 101, 'punt'], [9, 101, 'punt']);
  expect(write(before, edit(1, 'name', 'raft', ''))).toEqual(
    Buffer.from(boats([7, 100, 'ferry'], [8, 101, 'raft'], [9, 101, 'punt'])),
  );
  expect(write(before, edit(0, 'name', 'punt', ''), edit(2, 'keeper', 3, ''))).toEqual(
    Buffer.from(boats([7, 100, 'punt'], [8, 101, 'punt'], [9, 3, 'punt'])),
  );
});

test('a row in an order comes where it belongs', () => {
  const script = parseScript(`${ledger(FIXED).replace("size: '0' } }", "size: '0' }, sorted: id }")}`);
  const bytes = made(false);
  const write = (of: Uint8Array, row: number, id: number): Uint8Array =>
    writeDescribedRow(script, of, 'a.ledger', nodePrimitives, {
      ...{ table: 'ledger', row, does: 'copy', key: { column: 'id', value: id } },
    });
  const ids = (of: Uint8Array): unknown[] =>
    describedData(script, of, 'a.ledger', nodePrimitives).columns[0]!.cells as unknown[];
  expect(ids(write(bytes, 2, 0))).toEqual([0, 1, 2, 3]);
  expect(ids(write(write(bytes, 2, 9), 0, 7))).toEqual([1, 2, 3, 7, 9]);
});
