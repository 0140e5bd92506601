import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { crc32 } from 'node:zlib';
import { parseScript } from '@/core/script';
import { whyNot } from '@/core/testing/failure';
import { nodePrimitives } from '@/platform/node/primitives';
import type { Place } from '../data-table';
import { describedData } from '../described-table';
import { plainRow } from '../spell-out';
import {
  describedForms,
  mergeCells,
  writeDescribedCells,
  writeDescribedItem,
  type ItemEdit,
  type TableEdit,
} from './index';

/** A made-up table of recipes: lists of numbers, of texts and of records, which hold lists in turn, each behind its count. */
const script = parseScript(`format script: 1
title: Recipes
recognise: [{ at: 0, text: RCPE }]
records:
  head:
    tag: { type: text(4), fixed: RCPE }
    count: { type: u16, derived: count(rows) }
    check: { type: u32, derived: crc32(stored(rows)) }
  row:
    id: u16
    near: { type: u8, derived: count(beside) }
    beside: { type: u16, count: near }
    said: { type: u8, derived: count(words) }
    words: { type: ztext, count: said }
    parts: { type: u8, derived: count(made) }
    made: { type: part, count: parts }
    spots: { type: u8, derived: count(lies) }
    lies: { type: spot, count: spots }
    top: spot
  part:
    what: u8
    name: ztext
    times: { type: u8, derived: count(days) }
    days: { type: u8, count: times }
  spot: { x: i16, y: i16 }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }
entries: { each: rows, path: text(position), payload: { at: '0', size: '0' } }
table:
  name: "'recipes'"
  columns: { id: id, beside: beside, words: words, made: made, lies: lies, top: top, twice: id * 2 }
`);

interface Spot {
  readonly x: number;
  readonly y: number;
}
interface Recipe {
  readonly id: number;
  readonly beside: readonly number[];
  readonly words: readonly string[];
  readonly made: readonly {
    readonly what: number;
    readonly name: string;
    readonly days: readonly number[];
  }[];
  readonly lies: readonly Spot[];
  readonly top: Spot;
}

/** The bytes that a game would have, made without the script. */
function bytesOf(rows: readonly Recipe[]): Uint8Array {
  const i16 = (value: number): number[] => [value & 255, (value >> 8) & 255];
  const spot = ({ x, y }: Spot): number[] => [...i16(x), ...i16(y)];
  const text = (value: string): number[] => [...Buffer.from(value, 'latin1'), 0];
  const body = rows.flatMap(({ id, beside, words, made, lies, top }) => [
    ...i16(id),
    ...[beside.length, ...beside.flatMap(i16)],
    ...[words.length, ...words.flatMap(text)],
    made.length,
    ...made.flatMap(({ what, name, days }) => [what, ...text(name), days.length, ...days]),
    ...[lies.length, ...lies.flatMap(spot)],
    ...spot(top),
  ]);
  const check = crc32(Uint8Array.from(body));
  return Uint8Array.from([
    ...Buffer.from('RCPE'),
    ...i16(rows.length),
    ...i16(check),
    ...i16(check >>> 16),
    ...body,
  ]);
}

const ROWS: readonly Recipe[] = [
  {
    ...{ id: 1, beside: [300, 7], words: ['oil', 'ink'], lies: [{ x: 1, y: -2 }], top: { x: 5, y: 6 } },
    made: [
      { what: 6, name: 'oar', days: [1, 2] },
      { what: 0, name: '', days: [] },
    ],
  },
  { id: 2, beside: [], words: [], made: [], lies: [], top: { x: 0, y: 0 } },
];
const read = (bytes: Uint8Array): unknown[] => {
  const table = describedData(script, bytes, 'a.recipes', nodePrimitives);
  return Array.from({ length: table.count }, (_, row) => plainRow(table, row));
};
const asRead = (rows: readonly Recipe[]): unknown[] => rows.map((row) => ({ ...row, twice: row.id * 2 }));
const set = (row: number, column: string, within: Place, value: TableEdit['value']): TableEdit => ({
  ...{ table: 'recipes', row, column, within, value },
});
const write = (bytes: Uint8Array, ...edits: TableEdit[]): Uint8Array =>
  writeDescribedCells(script, bytes, 'a.recipes', nodePrimitives, edits);
const item = (bytes: Uint8Array, edit: object): Uint8Array =>
  writeDescribedItem(script, bytes, 'a.recipes', nodePrimitives, { table: 'recipes', ...edit } as ItemEdit);
const same = (bytes: Uint8Array, rows: readonly Recipe[]): void => {
  expect(read(bytes)).toEqual(asRead(rows));
  expect(Buffer.from(bytes).equals(Buffer.from(bytesOf(rows)))).toBe(true);
};
const changed = (at: number, more: Partial<Recipe>): Recipe[] =>
  ROWS.map((row, i) => (i === at ? { ...row, ...more } : row));

test('lists and records of a table that a script describes are read, and said to be written', () => {
  expect(read(bytesOf(ROWS))).toEqual(asRead(ROWS));
  const { writable } = describedData(script, bytesOf(ROWS), 'a.recipes', nodePrimitives);
  expect([...writable!]).toEqual(
    expect.arrayContaining(['beside[]', 'words[]', 'made[].what', 'made[].days[]', 'lies[].x', 'top.y']),
  );
  expect([...writable!].filter((path) => /twice|times|near/.test(path))).toEqual([]);
});

describe('what lies within a row', () => {
  test('becomes something else, and counts and sums follow', () => {
    const [first] = ROWS;
    const made = write(
      bytesOf(ROWS),
      set(0, 'beside', [1], 65_535),
      set(0, 'words', [0], 'tallow'),
      set(0, 'made', [0, 'name'], 'paddle'),
      set(0, 'made', [0, 'days', 1], 9),
      set(0, 'lies', [0, 'y'], -300),
      set(0, 'top', ['x'], 1),
    );
    same(
      made,
      changed(0, {
        ...{
          beside: [300, 65_535],
          words: ['tallow', 'ink'],
          lies: [{ x: 1, y: -300 }],
          top: { x: 1, y: 6 },
        },
        made: [{ what: 6, name: 'paddle', days: [1, 9] }, first!.made[1]!],
      }),
    );
  });

  test('is refused where nothing stands there, or its field does not take it', () => {
    const bytes = bytesOf(ROWS);
    const refused = (...edits: TableEdit[]): string => whyNot(() => write(bytes, ...edits));
    expect(refused(set(0, 'beside', [2], 1))).toMatch(/row 1, beside, 2.*carries/s);
    expect(refused(set(0, 'beside', [0], 70_000))).toMatch(/beside/);
    expect(refused(set(0, 'made', [0, 'times'], 1))).toMatch(/carries/);
    expect(refused(set(0, 'made', [0, 'what'], 'text'))).toMatch(/carries/);
    expect(refused(set(0, 'made', [0], 1))).toMatch(/carries/);
    expect(refused(set(0, 'beside', [], [1]))).toMatch(/carries/);
    expect(refused(set(0, 'twice', [], 4))).toMatch(/carries/);
    expect(refused(set(1, 'made', [0, 'what'], 1))).toMatch(/carries/);
  });

  test('of two mods is put together', () => {
    const base = bytesOf(ROWS);
    const merged = mergeCells(
      base,
      [
        write(base, set(0, 'beside', [0], 1)),
        write(base, set(0, 'beside', [1], 2), set(0, 'made', [0, 'what'], 7)),
      ],
      describedForms(script, 'a.recipes', nodePrimitives),
    )!;
    expect(merged.clashes).toEqual([]);
    same(
      merged.bytes,
      changed(0, { beside: [1, 2], made: [{ ...ROWS[0]!.made[0]!, what: 7 }, ROWS[0]!.made[1]!] }),
    );
  });
});

describe('a list within a row', () => {
  test.each<readonly [string, Place, keyof Recipe]>([
    ['of numbers', [], 'beside'],
    ['of texts', [], 'words'],
    ['of records', [], 'made'],
    ['of records of one length', [], 'lies'],
  ])('%s gets an item like another, and loses it', (_, within, column) => {
    const bytes = bytesOf(ROWS);
    const list = ROWS[0]![column] as readonly unknown[];
    for (let at = 0; at < list.length; at++) {
      const more = item(bytes, { row: 0, column, within, at, does: 'copy' });
      same(more, changed(0, { [column]: list.toSpliced(at + 1, 0, list[at]) }));
      expect(Buffer.from(item(more, { row: 0, column, within, at: at + 1, does: 'remove' }))).toEqual(
        Buffer.from(bytes),
      );
      same(
        item(bytes, { row: 0, column, within, at, does: 'remove' }),
        changed(0, { [column]: list.toSpliced(at, 1) }),
      );
    }
    expect(whyNot(() => item(bytes, { row: 0, column, within, at: 9, does: 'copy' }))).toMatch(
      /would be like/,
    );
    expect(whyNot(() => item(bytes, { row: 1, column, within, at: 0, does: 'remove' }))).toMatch(
      /would be like/,
    );
  });

  test('within a list of records does so too', () => {
    const more = item(bytesOf(ROWS), { row: 0, column: 'made', within: [0, 'days'], at: 0, does: 'copy' });
    same(more, changed(0, { made: [{ what: 6, name: 'oar', days: [1, 1, 2] }, ROWS[0]!.made[1]!] }));
  });

  test.each<readonly [keyof Recipe, Place, unknown]>([
    ['words', [1], 'ink'],
    ['beside', [0], 300],
    ['made', [0], ROWS[0]!.made[0]],
    ['lies', [0], ROWS[0]!.lies[0]],
  ])('that is empty gets a first item as another row has it: %s', (column, within, value) => {
    const place = { row: 1, column, within: [], at: 0 };
    const edit = { ...place, does: 'add' as const, item: { row: 0, within } };
    const first = item(bytesOf(ROWS), edit);
    same(first, changed(1, { [column]: [value] }));
    const again = item(item(first, { ...place, does: 'copy' }), { ...place, does: 'remove' });
    same(item(again, { ...place, does: 'remove' }), ROWS);
    const numbers = { ...place, does: 'add' as const, item: { numbers: [1] } };
    expect(whyNot(() => item(bytesOf(ROWS), numbers))).toMatch(/would be like/);
    expect(whyNot(() => item(bytesOf(ROWS), { ...edit, item: { row: 0, within: [7] } }))).toMatch(
      /would be like/,
    );
  });
});

test('whatever is done comes out as a game would write it', () => {
  const spot = fc.record({ x: fc.integer({ min: -32_768, max: 32_767 }), y: fc.nat(9) });
  const word = fc.stringMatching(/^[a-z]{0,6}$/);
  const days = fc.array(fc.nat(255), { maxLength: 4 });
  const row = fc.record({
    id: fc.nat(0xffff),
    beside: fc.array(fc.nat(0xffff), { maxLength: 5 }),
    words: fc.array(word, { maxLength: 5 }),
    made: fc.array(fc.record({ what: fc.nat(255), name: word, days }), { maxLength: 4 }),
    lies: fc.array(spot, { maxLength: 4 }),
    top: spot,
  });
  fc.assert(
    fc.property(
      fc.array(row, { minLength: 1, maxLength: 4 }),
      fc.constantFrom('beside', 'words', 'made', 'lies'),
      fc.nat(),
      fc.nat(),
      fc.boolean(),
      (rows, column, x, y, isCopy) => {
        const at = x % rows.length;
        const list = rows[at]![column as 'words'];
        fc.pre(list.length > 0);
        const which = y % list.length;
        const does = isCopy ? 'copy' : 'remove';
        const made = item(bytesOf(rows), { row: at, column, within: [], at: which, does });
        const wanted = isCopy ? list.toSpliced(which + 1, 0, list[which]!) : list.toSpliced(which, 1);
        same(
          made,
          rows.map((own, i) => (i === at ? { ...own, [column]: wanted } : own)),
        );
      },
    ),
    { numRuns: 100 },
  );
});

test('rows of one length have lists and records within them, which change or say why not', () => {
  const fixed = parseScript(`format script: 1
title: Grid
recognise: [{ at: 0, text: GRID }]
records:
  head: { tag: { type: text(4), fixed: GRID }, count: { type: u16, derived: count(rows) } }
  row: { id: u16, near: { type: u8, count: '3' }, spots: { type: spot, count: '2' }, top: spot }
  spot: { x: i16, y: i16 }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }
entries: { each: rows, path: text(position), payload: { at: '0', size: '0' } }
table:
  name: "'grid'"
  columns: { id: id, near: near, spots: spots, top: top }
`);
  const row = [1, 0, 7, 8, 9, 1, 0, 2, 0, 3, 0, 4, 0, 5, 0, 6, 0];
  const bytes = Uint8Array.from([...Buffer.from('GRID'), 2, 0, ...row, ...row]);
  const put = (column: string, within: Place, value: number): Uint8Array =>
    writeDescribedCells(fixed, bytes, 'a.grid', nodePrimitives, [
      { table: 'grid', row: 1, column, within, value },
    ]);
  const at = (place: number, value: number): Uint8Array => bytes.with(6 + row.length + place, value);
  expect(put('near', [1], 80)).toEqual(at(3, 80));
  expect(put('spots', [1, 'x'], 30)).toEqual(at(9, 30));
  expect(put('top', ['y'], 60)).toEqual(at(15, 60));
  // There is no room for another one.
  const more = { table: 'grid', row: 0, column: 'near', within: [], at: 0, does: 'copy' as const };
  expect(whyNot(() => writeDescribedItem(fixed, bytes, 'a.grid', nodePrimitives, more))).toMatch(/near/);
});
