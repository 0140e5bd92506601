import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { decode } from 'cborg';
import { selfSaid } from '../../../demo/world/quillmoor/cbor';
import { storyTables } from '../../../demo/world/quillmoor/tables';
import { ChangeRow } from '@/db';
import type { GameView } from '../games/games';
import { travel } from '../mods/history';
import { addMod } from '../mods/mods';
import { readBlob } from '../storage/storage';
import { TestBed } from '../testing/bed';
import { changeInWords } from './change-words';
import { editCell } from './edit-cell';
import { editRow, type RowAsked } from './edit-rows';
import { openReading } from './open-reading';
import { rowsView } from './reading-view';
import { rowView } from './row-view';

const bed = new TestBed();
let game: GameView;
beforeAll(async () => {
  await bed.begin();
  const tables = Object.fromEntries(
    Object.entries(storyTables()).map(([name, rows]) => [`tables/${name}.cbor`, selfSaid(rows)]),
  );
  game = await bed.game(
    'rows',
    {
      'story.zip': {
        ...tables,
        'a/1.scene': '{"scene": "a", "n": 1}',
        'a/2.scene': '{"scene": "b", "n": 2}',
      },
    },
    { 'prices.csv': 'code,price\nrope,4\nink,5\nwax,6\n', 'set.ini': '[a]\nx=1\n[b]\nx=2\n' },
  );
});
afterAll(() => bed.end());

const ITEMS = 'tables/items.cbor';
const LANTERN: RowAsked = { table: ITEMS, row: 0, does: 'copy', title: 'a lantern' };
const mod = async (title: string): Promise<number> => (await addMod(game.id, title)).id;
const written = async (modId: number): Promise<Record<string, unknown>[]> => {
  const [row] = await ChangeRow.findAll({ where: { modId } });
  return decode(readBlob(row!.preparedBlob!).subarray(3)) as Record<string, unknown>[];
};

test('a row like another is added under a key that is free, changed, told in words, undone', async () => {
  const own = await mod('more');
  expect((await rowView(await openReading(game.id), ITEMS, 0)).freeKey).toBe('824');
  expect(await editRow(game.id, own, LANTERN, false)).toEqual({ finding: null, row: 24, fit: 'fits' });
  expect((await written(own)).at(-1)).toMatchObject({ id: 824, name: 'a lantern' });
  const cell = {
    table: ITEMS,
    row: 24,
    column: 'name',
    within: [],
    was: 'a lantern',
    text: 'a dark lantern',
  };
  expect(await editCell(game.id, own, cell, false)).toMatchObject({ isWritten: true });
  const second = { ...LANTERN, key: '900', row: 24, title: 'a dark lantern' };
  expect((await editRow(game.id, own, second, false)).row).toBe(25);
  // Others are still known by what they are called by, and what changed in them is told.
  await editCell(
    game.id,
    own,
    { table: ITEMS, row: 1, column: 'price', within: [], was: '16', text: '17' },
    false,
  );
  const reading = await openReading(game.id, own);
  expect((await rowView(reading, ITEMS, 1)).values.find(({ name }) => name === 'price')).toMatchObject({
    was: '16',
  });
  expect((await rowView(reading, ITEMS, 25)).values.every(({ was }) => was === null)).toBe(true);
  const [row] = await ChangeRow.findAll({ where: { modId: own } });
  const [words] = (await changeInWords(game.id, own, row!.id))!;
  expect(words).toMatchObject({ added: ['a dark lantern', 'a dark lantern'], removed: [] });
  expect(await travel(own, 'undo')).toBe('price of ink: 16 to 17');
  expect(await travel(own, 'undo')).toBe('a row like a dark lantern: 900');
  expect(await written(own)).toHaveLength(25);
});

test('a row that others name is taken out only where that is said; what comes back as it was is no change', async () => {
  const own = await mod('less');
  const out: RowAsked = { ...LANTERN, does: 'remove' };
  const asked = await editRow(game.id, own, out, false);
  expect(asked).toMatchObject({ row: null, fit: null });
  expect(asked.finding).toMatch(/^\d+ places name it, and would lead nowhere$/);
  expect(await ChangeRow.count({ where: { modId: own } })).toBe(0);
  expect(await editRow(game.id, own, out, true)).toMatchObject({ finding: null, row: 0 });
  expect((await openReading(game.id, own)).index.dangling.length).toBeGreaterThan(0);
  await travel(own, 'undo');
  expect(await ChangeRow.count({ where: { modId: own } })).toBe(0);
  await editRow(game.id, own, LANTERN, false);
  await editRow(game.id, own, { ...LANTERN, does: 'remove', row: 24 }, false);
  expect(await ChangeRow.count({ where: { modId: own } })).toBe(0);
});

test('columns by texts, and what cannot be', async () => {
  const own = await mod('others');
  const prices = { table: 'prices.csv', row: 2, does: 'copy' as const, title: 'wax' };
  expect(await editRow(game.id, own, prices, false)).toMatchObject({ row: 3, fit: 'fits' });
  const [row] = await ChangeRow.findAll({ where: { modId: own } });
  expect(Buffer.from(readBlob(row!.preparedBlob!)).toString()).toBe(
    'code,price\nrope,4\nink,5\nwax,6\nwax_2,6\n',
  );
  const refused = (asked: RowAsked) => expect(editRow(game.id, own, asked, true)).rejects;
  await refused({ ...prices, key: 'ink' }).toThrow(/called by ink already/);
  await refused({ ...prices, key: ' ' }).toThrow(/has to be a text/);
  await refused({ ...LANTERN, key: 'x' }).toThrow(/has to be a whole number/);
  await refused({ ...prices, title: 'tar' }).toThrow(/another one by now/);
  const titleOf = async (table: string) => (await rowView(await openReading(game.id, own), table, 0)).title;
  const scene = { table: 'a/*.scene', row: 0, does: 'copy' as const, title: await titleOf('a/*.scene') };
  await refused(scene).toThrow(/each is a file of its own/);
  const ini = rowsView(
    await openReading(game.id, own),
    'set.ini',
    { text: '', order: -1, isBackwards: false },
    0,
    9,
  );
  expect(ini.total).toBe(2);
  await refused({ ...scene, table: 'set.ini', title: await titleOf('set.ini') }).toThrow(/cannot be written/);
  expect(await ChangeRow.count({ where: { modId: own } })).toBe(1);
});

test('two who change rows of one file at once lose neither', async () => {
  const own = await mod('at once');
  const both = await Promise.allSettled([
    editRow(game.id, own, LANTERN, false),
    editCell(
      game.id,
      own,
      { table: ITEMS, row: 1, column: 'price', within: [], was: '16', text: '18' },
      false,
    ),
  ]);
  const rows = await written(own);
  for (const one of both)
    if (one.status === 'rejected') expect(String(one.reason)).toContain('Look at it again');
  expect(rows.length === 25 || rows[1]!.price === 18).toBe(true);
  expect(both.filter(({ status }) => status === 'fulfilled').length).toBe(
    Number(rows.length === 25) + Number(rows[1]!.price === 18),
  );
});
