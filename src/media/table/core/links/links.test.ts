import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { storyTables } from '../../../../../demo/world/quillmoor/tables';
import { selfSaid } from '../../../../../demo/world/quillmoor/cbor';
import { fieldsOf, readOpenTables } from '..';
import { chainOf, guessLinks, idleFields, keyFields, ReferenceIndex, unreadRows, type TableFields } from '.';

const tableOf = (id: string, rows: readonly object[]): TableFields => {
  const { tables } = readOpenTables(Buffer.from(JSON.stringify(rows)), `${id}.json`)!;
  return { id, count: tables[0]!.count, fields: fieldsOf(tables[0]!) };
};
const STORY = Object.entries(storyTables()).map(([id, rows]): TableFields => {
  const { tables } = readOpenTables(selfSaid(rows), `${id}.cbor`)!;
  return { id, count: tables[0]!.count, fields: fieldsOf(tables[0]!) };
});
const named = (tables: readonly TableFields[]) =>
  guessLinks(tables).map(({ from, field, to, by, isSure }) => {
    const link = `${tables[from]!.id}.${tables[from]!.fields[field]!.path} ${tables[to]!.id}.${tables[to]!.fields[by]!.path}`;
    return isSure ? link : `${link}?`;
  });

describe('what points where', () => {
  test('is found in the story, all of it and nothing else', () => {
    expect(named(STORY).sort()).toEqual(
      [
        'letters.from people.id',
        'letters.promise promises.id',
        'letters.to people.id',
        'people.age letters.id',
        'people.home places.id',
        'places.near[] places.id',
        'places.tiles[] grounds.id',
        'promises.needs promises.id',
        'promises.to people.id',
        'recipes.from[].item items.id',
        'recipes.makes items.id',
        'recipes.taught letters.id',
        'scenes.checks promises.id',
        'scenes.gives items.id',
        'scenes.keeps promises.id',
        'scenes.makes promises.id',
        'scenes.opens letters.id',
        'scenes.place places.id',
        'scenes.then scenes.id',
        'scenes.weather weathers.id',
        'stirs.place places.id',
        'stirs.scene scenes.id',
        'stirs.thing items.id',
        'stirs.who people.id',
        'weathers.next weathers.id',
      ].sort(),
    );
  });

  test('tables that count from 1 are meant by nothing but what is called like them', () => {
    const rows = (count: number, more: (i: number) => object) =>
      Array.from({ length: count }, (_, i) => ({ id: i + 1, ...more(i) }));
    const tables = [
      tableOf(
        'boats',
        rows(20, (i) => ({ wind: 1 + ((i * 7) % 20), keeper: 1 + ((i * 3) % 8) })),
      ),
      tableOf(
        'keepers',
        rows(8, (i) => ({ age: 1 + ((i * 5) % 19) })),
      ),
    ];
    expect(named(tables)).toContain('boats.keeper keepers.id');
    expect(named(tables).filter((link) => !link.endsWith('?') && /\.(wind|age) /.test(link))).toEqual([]);
  });

  test('texts are keys as well', () => {
    const tables = [
      tableOf(
        'items',
        ['oil', 'ink', 'wax', 'rope'].map((name) => ({ name, weight: 2 })),
      ),
      tableOf('shops', [
        { id: 7, sells: ['oil', 'ink'] },
        { id: 9, sells: ['rope', 'wax', 'ink'] },
      ]),
    ];
    expect(named(tables)).toEqual(['shops.sells[] items.name']);
  });

  test('nothing is found in nothing', () => {
    expect(guessLinks([])).toEqual([]);
    expect(guessLinks([tableOf('one', [{ id: 1 }])])).toEqual([]);
  });
});

const indexOf = (tables: readonly TableFields[]): ReferenceIndex =>
  new ReferenceIndex(tables, guessLinks(tables), keyFields(tables));

describe('every reference', () => {
  test('is found from both ends, as a search through everything finds it', () => {
    const rows = fc.array(fc.record({ to: fc.array(fc.integer({ min: 1, max: 14 }), { maxLength: 4 }) }), {
      minLength: 2,
      maxLength: 10,
    });
    fc.assert(
      fc.property(rows, (all) => {
        const made = all.map((row, i) => ({ id: i + 1, ...row }));
        const tables = [tableOf('rows', made)];
        const to = tables[0]!.fields.findIndex(({ path }) => path === 'to[]');
        if (to < 0) return;
        const by = tables[0]!.fields.findIndex(({ path }) => path === 'id');
        const index = new ReferenceIndex(tables, [{ from: 0, field: to, to: 0, by }], keyFields(tables));
        let count = 0;
        made.forEach((row, i) => {
          const out = row.to.filter((one) => one <= made.length).map((one) => one - 1);
          expect([...index.outOf(i)].map((one) => one.to)).toEqual(out);
          const into = made.flatMap((other, n) => other.to.filter((one) => one === i + 1).map(() => n));
          expect([...index.into(i)].map((one) => one.from).sort()).toEqual(into.sort());
          expect(index.countInto(i)).toBe(into.length);
          count += out.length;
        });
        expect(index.count).toBe(count);
        expect(index.dangling.length).toBe(made.flatMap(({ to: said }) => said).length - count);
      }),
    );
  });

  test('knows the table of every row', () => {
    const index = indexOf(STORY);
    STORY.forEach(({ count }, table) => {
      for (const row of [0, count - 1])
        expect(index.placeOf(index.rowOf(table, row))).toEqual({ table, row });
    });
    expect(index.count).toBeGreaterThan(1500);
  });
});

describe('chains', () => {
  const ring = [
    tableOf('steps', [
      { id: 11, then: 12 },
      { id: 12, then: 13 },
      { id: 13, then: 11 },
      { id: 14, then: 11 },
    ]),
  ];
  const index = new ReferenceIndex(
    ring,
    [{ from: 0, field: ring[0]!.fields.findIndex(({ path }) => path === 'then'), to: 0, by: 0 }],
    keyFields(ring),
  );
  const bounds = { depth: 10, rows: 100 };

  test('end where they come back to themselves', () => {
    const { rows, steps, isCut } = chainOf(index, 0, 'comes of it', bounds);
    expect(rows.map(({ row, depth }) => [row, depth])).toEqual([
      [0, 0],
      [1, 1],
      [2, 2],
    ]);
    expect(steps.map(({ from, to, isCircle }) => [from, to, isCircle])).toEqual([
      [0, 1, false],
      [1, 2, false],
      [2, 0, true],
    ]);
    expect(isCut).toBe(false);
  });

  test('are followed backwards, and cut where they are bounded', () => {
    expect(chainOf(index, 0, 'leads here', bounds).rows.map(({ row }) => row)).toEqual([0, 2, 3, 1]);
    const near = chainOf(index, 0, 'leads here', { depth: 1, rows: 100 });
    expect([near.isCut, near.rows.map(({ row, hidden }) => [row, hidden])]).toEqual([
      true,
      [
        [0, 0],
        [2, 1],
        [3, 0],
      ],
    ]);
    const few = chainOf(index, 0, 'leads here', { depth: 9, rows: 2 });
    expect([few.isCut, few.rows.length]).toEqual([true, 2]);
  });
});

test('rows that nothing refers to, and fields that tell nothing', () => {
  const index = indexOf(STORY);
  const unread = unreadRows(STORY, index);
  const promises = unread.find(({ table }) => STORY[table]!.id === 'promises')!;
  // 2901 is needed by 2902, which nothing needs.
  expect(promises.rows).toContain(49);
  expect(promises.sureness).toBeGreaterThan(0.5);
  expect(unread.map(({ table }) => STORY[table]!.id)).not.toContain('stirs');
  const idle = idleFields(STORY).map(
    ({ table, field, why }) => `${STORY[table]!.id}.${STORY[table]!.fields[field]!.path} ${why}`,
  );
  expect(idle).toContain('grounds.unused the same in every row');
  expect(idle).not.toContain('grounds.slow the same in every row');
});
