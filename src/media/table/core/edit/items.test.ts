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
  does: ItemEdit['does'],
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
