import { describe, expect, test } from '@jest/globals';
import { encode as encodePack } from '@msgpack/msgpack';
import { encode as encodeCbor } from 'cborg';
import fc from 'fast-check';
import type { Place } from '../data-table';
import { readOpenTables } from '../read-open';
import { tableAsJson } from '../spell-out';
import { writeItem, type ItemEdit } from './index';
import { whyNot } from '@/core/testing/failure';

const edit = (
  does: 'copy' | 'remove',
  row: number,
  column: string,
  at: number,
  within: Place = [],
  table = '',
): ItemEdit => ({
  ...{ table, row, column, within, at, does },
});
const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
const textOf = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
const rowsOf = (bytes: Uint8Array, name: string): unknown[] =>
  JSON.parse(tableAsJson(readOpenTables(bytes, name)!.tables[0]!)) as unknown[];
describe('a list within a cell gets an item behind the one that it is like, and loses one', () => {
  test.each([
    ['copy', 0, '[{"id": 1, "near": [4, 4, 5]}, {"id": 2, "near": []}]'],
    ['copy', 1, '[{"id": 1, "near": [4, 5, 5]}, {"id": 2, "near": []}]'],
    ['remove', 0, '[{"id": 1, "near": [5]}, {"id": 2, "near": []}]'],
    ['remove', 1, '[{"id": 1, "near": [4]}, {"id": 2, "near": []}]'],
  ] as const)('JSON: %s of item %i', (does, at, wanted) => {
    const bytes = bytesOf('[{"id": 1, "near": [4, 5]}, {"id": 2, "near": []}]');
    expect(textOf(writeItem(bytes, 'a.json', edit(does, 0, 'near', at)))).toBe(wanted);
  });

  test('JSON in lines, of records, to the last one and back', () => {
    const text =
      '[\n  {\n    "id": 1,\n    "from": [\n      { "item": 3, "count": 2 }\n    ]\n  },\n  { "id": 2, "from": [{ "item": 4, "count": 1 }] }\n]\n';
    const more = writeItem(bytesOf(text), 'a.json', edit('copy', 0, 'from', 0));
    expect(textOf(more)).toBe(
      text.replace(
        '{ "item": 3, "count": 2 }',
        '{ "item": 3, "count": 2 },\n      { "item": 3, "count": 2 }',
      ),
    );
    expect(textOf(writeItem(more, 'a.json', edit('remove', 0, 'from', 1)))).toBe(text);
    const none = writeItem(bytesOf(text), 'a.json', edit('remove', 1, 'from', 0));
    expect(rowsOf(none, 'a.json')[1]).toEqual({ id: 2, from: [] });
  });

  test('YAML in lines and in brackets, the last line without an end', () => {
    const text =
      '- id: 1\n  near:\n    - 4\n    - 5 # far\n- id: 2\n  near: [6, 7]\n- id: 3\n  near:\n    - 8\n    - 9';
    const written = (...all: ItemEdit[]): string =>
      textOf(all.reduce((now, one) => writeItem(now, 'a.yaml', one), bytesOf(text)));
    expect(written(edit('copy', 0, 'near', 0))).toBe(text.replace('    - 4\n', '    - 4\n    - 4\n'));
    expect(written(edit('copy', 1, 'near', 1))).toBe(text.replace('[6, 7]', '[6, 7, 7]'));
    expect(written(edit('remove', 1, 'near', 0))).toBe(text.replace('[6, 7]', '[7]'));
    expect(written(edit('copy', 2, 'near', 1))).toBe(`${text}\n    - 9`);
    expect(written(edit('copy', 2, 'near', 1), edit('remove', 2, 'near', 2))).toMatch(/- 8\n {4}- 9\n?$/);
    expect(written(edit('remove', 0, 'near', 1))).toBe(text.replace('    - 5 # far\n', ''));
    const none = written(edit('remove', 0, 'near', 1), edit('remove', 0, 'near', 0));
    expect(none).toBe(text.replace('near:\n    - 4\n    - 5 # far\n', 'near: []\n'));
    expect(written(edit('remove', 2, 'near', 0), edit('remove', 2, 'near', 0))).toMatch(/ {2}near: \[\]$/);
  });

  test.each([
    ['CBOR', (rows: unknown) => encodeCbor(rows), 'a.cbor'],
    ['MessagePack', (rows: unknown) => encodePack(rows), 'a.msgpack'],
    ['JSON', (rows: unknown) => bytesOf(JSON.stringify(rows, undefined, 2)), 'a.json'],
  ] as const)('%s as its own writer would, at any depth, and back', (_, encode, name) => {
    const item = fc.oneof(fc.integer({ min: 0, max: 70_000 }), fc.string({ maxLength: 5 }));
    const list = fc.array(item, { minLength: 1, maxLength: 30 });
    const rows = fc.array(
      fc.record({ near: list, deep: fc.record({ a: fc.array(list, { minLength: 1, maxLength: 3 }) }) }),
      {
        minLength: 1,
        maxLength: 4,
      },
    );
    fc.assert(
      fc.property(rows, fc.nat(), fc.nat(), fc.boolean(), (all, x, y, isDeep) => {
        const named = all.map((row, id) => ({ id, ...row }));
        const row = x % named.length;
        const own = isDeep ? named[row]!.deep.a[0]! : named[row]!.near;
        const at = y % own.length;
        const [column, within] = isDeep ? (['deep', ['a', 0]] as const) : (['near', []] as const);
        const bytes = Uint8Array.from(encode(named));
        const more = writeItem(bytes, name, edit('copy', row, column, at, within));
        const wanted = structuredClone(named);
        (isDeep ? wanted[row]!.deep.a[0]! : wanted[row]!.near).splice(at + 1, 0, own[at]!);
        expect(rowsOf(more, name)).toEqual(wanted);
        if (name !== 'a.json') expect(Buffer.from(more).equals(Buffer.from(encode(wanted)))).toBe(true);
        expect(
          Buffer.from(writeItem(more, name, edit('remove', row, column, at + 1, within))).equals(
            Buffer.from(bytes),
          ),
        ).toBe(true);
      }),
      { numRuns: 60 },
    );
  });
});

describe('an item comes into a list that has none, or at any place', () => {
  const add = (
    row: number,
    column: string,
    at: number,
    item: Extract<ItemEdit, { does: 'add' }>['item'],
    within: Place = [],
  ): ItemEdit => ({ ...{ table: '', row, column, within, at }, does: 'add', item });
  const like = (row: number, ...within: Place): { row: number; within: Place } => ({ row, within });

  test.each([
    ['JSON', '[{"id": 1, "near": []}, {"id": 2, "near": [4, 5]}]', '"near": [4]', '"near": []'],
    ['JSON', '[{"id":1,"near":[ ]},{"id":2,"near":[4,5]}]', '"near":[4]', '"near":[ ]'],
    [
      'JSON',
      '[\n {"id": 1, "near": []},\n {"id": 2, "near": [\n   4,\n   5\n ]}\n]',
      '"near": [\n   4\n ]},\n',
      '"near": []},\n',
    ],
    ['YAML', '- id: 1\n  near: []\n- id: 2\n  near: [4, 5]\n', 'near: [4]', 'near: []'],
    ['YAML', '- id: 1\n  near: []\n- id: 2\n  near:\n    - 4\n    - 5\n', 'near:\n    - 4\n-', 'near: []\n-'],
    [
      'YAML',
      '- id: 1\n  near: [] # nobody\n- id: 2\n  near:\n  - 4\n  - 5',
      'near: # nobody\n  - 4\n-',
      'near: [] # nobody\n-',
    ],
    [
      'YAML',
      '- id: 1\r\n  near: []\r\n- id: 2\r\n  near:\r\n  - 4\r\n',
      'near:\r\n  - 4\r\n-',
      'near: []\r\n-',
    ],
  ])('as the first of another row stands: %s %#', (form, text, now, was) => {
    const name = `a.${form.toLowerCase()}`;
    const made = textOf(writeItem(bytesOf(text), name, add(0, 'near', 0, like(1, 0))));
    expect(made).toBe(text.replace(was, now));
    expect(rowsOf(bytesOf(made), name)[0]).toEqual({ id: 1, near: [4] });
  });

  test('an empty list at the end of YAML, in lines as those before', () => {
    const text = '- id: 1\n  near:\n    - 4\n- id: 2\n  near: []';
    expect(textOf(writeItem(bytesOf(text), 'a.yaml', add(1, 'near', 0, like(0, 0))))).toBe(
      text.replace(' []', '\n    - 4'),
    );
  });

  test.each([
    [
      'JSON',
      '[{"id": 1, "s": [[1, 2], [3]]}, {"id": 2, "s": []}]',
      '[{"id": 1, "s": [[1, 2], [7, 8], [3]]}, {"id": 2, "s": []}]',
    ],
    [
      'JSON',
      '[{"id":1,"s":[[1,2],[3]]},{"id":2,"s":[]}]',
      '[{"id":1,"s":[[1,2],[7,8],[3]]},{"id":2,"s":[]}]',
    ],
    ['YAML', '- id: 1\n  s: [[1, 2], [3]]\n', '- id: 1\n  s: [[1, 2], [7, 8], [3]]\n'],
    [
      'YAML',
      '- id: 1\n  s:\n    - [1, 2]\n    - [3]\n',
      '- id: 1\n  s:\n    - [1, 2]\n    - [7, 8]\n    - [3]\n',
    ],
  ])('numbers in brackets, spelled as those beside them: %s %#', (form, text, wanted) => {
    const name = `a.${form.toLowerCase()}`;
    const edit = add(0, 's', 1, { numbers: [7, 8] });
    expect(textOf(writeItem(bytesOf(text), name, edit))).toBe(wanted);
    for (const at of [0, 2]) {
      const made = writeItem(bytesOf(text), name, { ...edit, at });
      const s = (rowsOf(made, name)[0] as { s: unknown[] }).s;
      expect(s).toEqual([[1, 2], [3]].toSpliced(at, 0, [7, 8]));
    }
  });

  test.each([
    ['CBOR', (rows: unknown) => encodeCbor(rows), 'a.cbor'],
    ['MessagePack', (rows: unknown) => encodePack(rows), 'a.msgpack'],
    ['JSON', (rows: unknown) => bytesOf(JSON.stringify(rows)), 'a.json'],
  ] as const)('%s as its own writer would', (_, encode, name) => {
    const list = fc.array(fc.integer({ min: 0, max: 70_000 }), { maxLength: 30 });
    fc.assert(
      fc.property(list, fc.array(list, { minLength: 1, maxLength: 3 }), fc.nat(), (numbers, lists, x) => {
        const rows = [
          { id: 1, s: lists },
          { id: 2, s: [[9]] },
          { id: 3, s: [] as number[][] },
        ];
        const at = x % (lists.length + 1);
        const bytes = Uint8Array.from(encode(rows));
        const made = writeItem(bytes, name, add(0, 's', at, { numbers }));
        const wanted = [{ id: 1, s: lists.toSpliced(at, 0, numbers) }, ...rows.slice(1)];
        expect(Buffer.from(made).equals(Buffer.from(encode(wanted)))).toBe(true);
        const first = writeItem(bytes, name, add(2, 's', 0, like(0, 0)));
        const filled = [...rows.slice(0, 2), { id: 3, s: [lists[0]] }];
        expect(Buffer.from(first).equals(Buffer.from(encode(filled)))).toBe(true);
      }),
      { numRuns: 60 },
    );
  });

  test('floats come as floats, into a list of CBOR that does not say how long it is', () => {
    // [{"a": [_ ]}, {"a": [_ 1.0 as a float of 4 bytes]}]
    const bytes = Uint8Array.of(
      0x82,
      0xa1,
      0x61,
      0x61,
      0x9f,
      0xff,
      0xa1,
      0x61,
      0x61,
      0x9f,
      0xfa,
      0x3f,
      0x80,
      0,
      0,
      0xff,
    );
    const made = writeItem(bytes, 'a.cbor', add(0, 'a', 0, like(1, 0)));
    expect([...made]).toEqual([...bytes.subarray(0, 5), 0xfa, 0x3f, 0x80, 0, 0, ...bytes.subarray(5)]);
  });

  test('what it would be like has to be there, and the place to be one of the list', () => {
    const json = bytesOf('[{"id": 1, "near": []}, {"id": 2, "near": [5]}]');
    const refused = (edit: ItemEdit): string => whyNot(() => writeItem(json, 'a.json', edit));
    expect(refused(add(0, 'near', 1, like(1, 0)))).toMatch(/near, item 2/);
    expect(refused(add(0, 'near', 0, like(1, 1)))).toMatch(/an item that it would be like/);
    expect(refused(add(0, 'near', 0, like(9, 0)))).toMatch(/an item that it would be like/);
    expect(refused(add(0, 'id', 0, like(1, 0)))).toMatch(/an item of a list/);
    // A note stands where the item would.
    const noted = bytesOf('- id: 1\n  near: [ # none yet\n  ]\n- id: 2\n  near: [5]\n');
    expect(whyNot(() => writeItem(noted, 'a.yaml', add(0, 'near', 0, like(1, 0))))).toMatch(/another form/);
  });
});

test('what is no list, has no such item, or is in a form without lists is refused', () => {
  const json = bytesOf('[{"id": 1, "near": [4]}, {"id": 2, "near": [5]}]');
  expect(whyNot(() => writeItem(json, 'a.json', edit('copy', 0, 'near', 1)))).toMatch(/near, item 2.*none/s);
  expect(whyNot(() => writeItem(json, 'a.json', edit('copy', 0, 'id', 0)))).toMatch(/an item of a list/);
  expect(whyNot(() => writeItem(json, 'a.json', edit('copy', 7, 'near', 0)))).toMatch(/row 8/);
  expect(whyNot(() => writeItem(json, 'a.json', edit('copy', 0, 'near', 0, [3])))).toMatch(
    /an item of a list/,
  );
  expect(whyNot(() => writeItem(bytesOf('id,b\n1,2\n3,4\n'), 'a.csv', edit('copy', 0, 'b', 0)))).toMatch(
    /an item of a list/,
  );
  // A note between stands in the way.
  const noted = bytesOf('- id: 1\n  near: # those beside it\n    - 4\n- id: 2\n  near:\n    - 5\n');
  expect(whyNot(() => writeItem(noted, 'a.yaml', edit('remove', 0, 'near', 0)))).toMatch(/read otherwise/);
});
