import { describe, expect, test } from '@jest/globals';
import { encode as encodePack } from '@msgpack/msgpack';
import { encode as encodeCbor } from 'cborg';
import fc from 'fast-check';
import { tableAsJson } from '../spell-out';
import { readOpenTables } from '../read-open';
import { writeRow, type RowEdit } from './index';
import { whyNot } from '@/core/testing/failure';

const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
const textOf = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
const copy = (row: number, key?: RowEdit['key'], table = ''): RowEdit => ({
  table,
  row,
  does: 'copy',
  ...(key && { key }),
});
const remove = (row: number, table = ''): RowEdit => ({ table, row, does: 'remove' });
const rowsOf = (bytes: Uint8Array, name: string): unknown[] =>
  JSON.parse(tableAsJson(readOpenTables(bytes, name)!.tables[0]!)) as unknown[];
describe('known answers', () => {
  const hex = (text: string): Uint8Array => Uint8Array.from(Buffer.from(text, 'hex'));
  const inHex = (bytes: Uint8Array): string => Buffer.from(bytes).toString('hex');

  test('CBOR counts one more and one less, behind a tag, without a count, and with a longer one', () => {
    const two = 'd9d9f782a162696401a162696402';
    expect(inHex(writeRow(hex(two), 'a.cbor', copy(0, { column: 'id', value: 3 })))).toBe(
      'd9d9f783a162696401a162696402a162696403',
    );
    expect(inHex(writeRow(hex(two), 'a.cbor', remove(0)))).toBe('d9d9f781a162696402');
    expect(inHex(writeRow(hex('9fa162696401a162696402ff'), 'a.cbor', copy(1)))).toBe(
      '9fa162696401a162696402a162696402ff',
    );
    // A count of two bytes keeps them.
    expect(inHex(writeRow(hex('990002a162696401a162696402'), 'a.cbor', remove(1)))).toBe('990001a162696401');
  });

  test.each([
    ['CBOR', (rows: unknown) => encodeCbor(rows), 'a.cbor', [23, 255, 65535]],
    ['MessagePack', (rows: unknown) => encodePack(rows), 'a.msgpack', [15, 65535]],
  ] as const)('%s counts over the lengths that its counts have', (_, encode, name, counts) => {
    for (const count of counts) {
      const rows = Array.from({ length: count }, (_row, id) => ({ id }));
      const more = writeRow(new Uint8Array(encode(rows)), name, copy(0, { column: 'id', value: count }));
      expect(Buffer.from(more).equals(Buffer.from(encode([...rows, { id: count }])))).toBe(true);
      const again = rowsOf(writeRow(more, name, remove(count)), name);
      expect(again).toHaveLength(count);
    }
  });

  test('JSON, as it is laid out, also where a list has one row only', () => {
    const laid = '{"rows": [\n  {"id": 1, "n": "a"},\n  {"id": 2, "n": "b"}\n], "x": 1}\n';
    expect(textOf(writeRow(bytesOf(laid), 'a.json', copy(0, { column: 'id', value: 9 }, 'rows')))).toBe(
      '{"rows": [\n  {"id": 1, "n": "a"},\n  {"id": 2, "n": "b"},\n  {"id": 9, "n": "a"}\n], "x": 1}\n',
    );
    expect(textOf(writeRow(bytesOf(laid), 'a.json', remove(0, 'rows')))).toBe(
      '{"rows": [\n  {"id": 2, "n": "b"}\n], "x": 1}\n',
    );
    expect(textOf(writeRow(bytesOf(laid), 'a.json', remove(1, 'rows')))).toBe(
      '{"rows": [\n  {"id": 1, "n": "a"}\n], "x": 1}\n',
    );
    expect(textOf(writeRow(bytesOf('[{"id":1}]'), 'a.json', copy(0)))).toBe('[{"id":1},{"id":1}]');
  });

  test('YAML in lines and within brackets, with notes, and without an end of its last line', () => {
    const lines = '# of the ferry\n- id: 1\n  n: a # first\n- id: 2\n  n: b';
    expect(textOf(writeRow(bytesOf(lines), 'a.yaml', copy(0, { column: 'id', value: 3 })))).toBe(
      `${lines}\n- id: 3\n  n: a # first`,
    );
    expect(textOf(writeRow(bytesOf(`${lines}\n`), 'a.yaml', remove(0)))).toBe(
      '# of the ferry\n- id: 2\n  n: b\n',
    );
    expect(
      textOf(writeRow(bytesOf('[{ id: 1 }, { id: 2 }]\n'), 'a.yaml', copy(1, { column: 'id', value: 3 }))),
    ).toBe('[{ id: 1 }, { id: 2 }, { id: 3 }]\n');
  });

  test('columns, with a heading and line ends as they are', () => {
    const csv = 'id;name\r\n1;"a;b"\r\n2;c\r\n';
    expect(textOf(writeRow(bytesOf(csv), 'a.csv', copy(0, { column: 'id', value: 3 })))).toBe(
      'id;name\r\n1;"a;b"\r\n2;c\r\n3;"a;b"\r\n',
    );
    expect(textOf(writeRow(bytesOf(csv), 'a.csv', remove(1)))).toBe('id;name\r\n1;"a;b"\r\n');
  });
});

test.each([
  ['the only row', '[{"id": 1}]', 'a.json', remove(0), 'the only row'],
  ['a row that is not there', '[{"id": 1}, {"id": 2}]', 'a.json', remove(2), 'none'],
  [
    'rows under names',
    '{"a": {"id": 1}, "b": {"id": 2}}',
    'a.json',
    copy(0),
    'rows under names of their own',
  ],
  ['keys below headings', '[a]\nid=1\n[b]\nid=2\n', 'a.ini', copy(0), 'not-writable'],
  ['what an anchor leads to', '- &one\n  id: 1\n- *one\n', 'a.yaml', remove(0), 'alias'],
])('%s is refused', (_, text, name, edit, why) => {
  const said = whyNot(() => writeRow(bytesOf(text), name, edit));
  if (why !== 'not-writable') expect(said).toContain(why);
});

describe('properties', () => {
  const value = fc.oneof(
    fc.integer({ min: 1, max: 9999 }),
    fc.stringMatching(/^[a-z]{2,8}( [a-z]{2,5})?$/),
    fc.boolean(),
  );
  const rows = fc
    .array(
      fc.record({
        n: fc.stringMatching(/^[a-z]{3,9}$/),
        v: value,
        l: fc.array(fc.integer({ min: 0, max: 300 }), { minLength: 1, maxLength: 4 }),
      }),
      { minLength: 2, maxLength: 40 },
    )
    .map((all) => all.map((one, i) => ({ id: 700 + i, ...one })));
  const forms = [
    ['a.cbor', (all: unknown) => encodeCbor(all)],
    ['a.msgpack', (all: unknown) => encodePack(all)],
    ['a.json', (all: unknown) => bytesOf(JSON.stringify(all, null, 1))],
  ] as const;

  test.each(forms)(
    'a row that is copied and taken out again leaves the file as it was: %s',
    (name, encode) => {
      fc.assert(
        fc.property(rows, fc.nat(), (all, at) => {
          const bytes = Uint8Array.from(encode(all));
          const row = at % all.length;
          const more = writeRow(bytes, name, copy(row, { column: 'id', value: 5000 }));
          expect(rowsOf(more, name)).toEqual([...all, { ...all[row]!, id: 5000 }]);
          expect(Buffer.from(writeRow(more, name, remove(all.length))).equals(Buffer.from(bytes))).toBe(true);
          expect(rowsOf(writeRow(bytes, name, remove(row)), name)).toEqual(all.filter((_, i) => i !== row));
        }),
        { numRuns: 80 },
      );
    },
  );
});
