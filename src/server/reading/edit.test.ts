import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { decode } from 'cborg';
import { selfSaid } from '../../../demo/world/quillmoor/cbor';
import { storyTables } from '../../../demo/world/quillmoor/tables';
import { ChangeRow } from '@/db';
import { buildMods } from '../building/builds';
import type { GameView } from '../games/games';
import { installBuild } from '../installing/install';
import { restoreGame } from '../installing/restore';
import { travel } from '../mods/history';
import { addMod, replaceEntry } from '../mods/mods';
import { putTogether } from '../mods/mix';
import { readBlob } from '../storage/storage';
import { quietJob, TestBed } from '../testing/bed';
import { changeInWords } from './change-words';
import { checkCellIn, editCell, type CellAsked } from './edit-cell';
import { editItem } from './edit-item';
import { comparedLevel, hasOtherGames, hidingIn, levelsOf } from './levels';
import { openReading } from './open-reading';
import { readingOverview, rowsView } from './reading-view';
import { rowView, targetsOf } from './row-view';
import { dropWords, keepWords } from './words';

const bed = new TestBed();
let game: GameView;
beforeAll(async () => {
  await bed.begin();
  const tables = Object.fromEntries(
    Object.entries(storyTables()).map(([name, rows]) => [`tables/${name}.cbor`, selfSaid(rows)]),
  );
  game = await bed.game(
    'story',
    { 'story.zip': tables },
    {
      'loose/prices.csv': 'id,price\n1,4\n2,5\n3,6\n',
      'scenes/jetty.scene': '{"scene": "jetty", "wind": 1.0}\n',
      'scenes/market.scene': '{"scene": "market", "wind": 2.5}\n',
    },
  );
});
afterAll(() => bed.end());

const PEOPLE = 'tables/people.cbor';
const asked = (column: string, was: string, text: string, more: Partial<CellAsked> = {}): CellAsked => ({
  ...{ table: PEOPLE, row: 0, column, within: [], was, text },
  ...more,
});
const mod = async (title: string): Promise<number> => (await addMod(game.id, title)).id;
const cellsOf = async (modId: number | undefined, table: string, row: number): Promise<string[]> => {
  const view = rowsView(
    await openReading(game.id, modId),
    table,
    { text: '', order: -1, isBackwards: false },
    0,
    500,
  );
  return view.rows[row]!.cells.map(({ text }) => text);
};

describe('a cell that is changed', () => {
  test('is a change of the mod, seen in all that is read with it, and a step that can be undone', async () => {
    const own = await mod('moods');
    const answer = await editCell(game.id, own, asked('mood', '0', '2'), false);
    expect(answer).toEqual({ findings: [], isWritten: true, fit: 'fits' });
    expect((await cellsOf(own, PEOPLE, 0))[4]).toBe('2');
    expect((await cellsOf(undefined, PEOPLE, 0))[4]).toBe('0');
    const reading = await openReading(game.id, own);
    expect(readingOverview(reading).changed).toEqual([PEOPLE]);
    expect(readingOverview(await openReading(game.id)).changed).toEqual([]);
    expect((await rowView(reading, PEOPLE, 0)).values.find(({ name }) => name === 'mood')).toMatchObject({
      ...{ text: '2', was: '0', isWritable: true },
    });
    // The second edit goes on from the first, and only these two bytes differ.
    await editCell(game.id, own, asked('mood', '1', '0', { row: 1 }), false);
    const [row] = await ChangeRow.findAll({ where: { modId: own } });
    const made = readBlob(row!.preparedBlob!);
    const original = selfSaid(storyTables().people!);
    expect(made.length).toBe(original.length);
    expect([...made].filter((byte, i) => byte !== original[i])).toHaveLength(2);
    expect((decode(made.subarray(3)) as { mood: number }[]).slice(0, 3).map(({ mood }) => mood)).toEqual([
      2, 0, 2,
    ]);
    expect(row!.givenName).toBe('people.cbor, cells changed');
    // What is made what it was is no change any more.
    await editCell(game.id, own, asked('mood', '2', '0'), false);
    await editCell(game.id, own, asked('mood', '0', '1', { row: 1 }), false);
    expect(await ChangeRow.count({ where: { modId: own } })).toBe(0);
    expect(await travel(own, 'undo')).toBe('mood of Ibis: 0 to 1');
    expect((await cellsOf(own, PEOPLE, 1))[4]).toBe('0');
  });

  test('is told where it means nothing, is called as another, or is none of its sort', async () => {
    const own = await mod('checked');
    const states = async (one: CellAsked): Promise<string[]> =>
      (await checkCellIn(game.id, own, one)).map(({ state, what }) => `${state}: ${what}`);
    expect(await states(asked('home', '300', '999'))).toEqual(['wrong: 999 is no row of tables/places.cbor']);
    expect(await states(asked('home', '300', '0'))).toEqual([]);
    expect(await states(asked('home', '300', '301'))).toEqual([]);
    expect((await states(asked('id', '100', '101')))[0]).toBe('wrong: Another row is called 101');
    expect((await states(asked('id', '100', '777')))[0]).toMatch(/^look: \d+ places name this row by 100$/);
    expect(await states(asked('mood', '0', 'glad'))).toEqual(['wrong: glad is no number']);
    expect(await states(asked('mood', '0', '9'))).toEqual(['look: 9 is outside of 0 to 2']);
    expect(await states(asked('mood', '0', '1.5'))).toEqual(['look: 1.5 has a fraction']);
    expect(await states(asked('name', 'Odd Marren', ''))).toEqual([]);
    const answer = await editCell(game.id, own, asked('home', '300', '999'), false);
    expect(answer.isWritten).toBe(false);
    expect(await ChangeRow.count({ where: { modId: own } })).toBe(0);
    expect((await editCell(game.id, own, asked('home', '300', '999'), true)).isWritten).toBe(true);
    // It leads nowhere now, and that is told.
    expect((await openReading(game.id, own)).index.dangling).toHaveLength(1);
    const [row] = await ChangeRow.findAll({ where: { modId: own } });
    expect(await changeInWords(game.id, own, row!.id)).toEqual([
      expect.objectContaining({
        table: PEOPLE,
        count: 1,
        values: [
          {
            row: 'Odd Marren',
            field: 'home',
            before: expect.stringMatching(/ \(300\)$/),
            after: '999',
            isNowhere: true,
          },
        ],
      }),
    ]);
  });

  test('that somebody else changed meanwhile is not written over', async () => {
    const own = await mod('meanwhile');
    await editCell(game.id, own, asked('mood', '0', '1'), false);
    await expect(editCell(game.id, own, asked('mood', '0', '2'), false)).rejects.toThrow(/is 1 by now/);
    await expect(editCell(game.id, own, asked('mood', '1', '2', { row: 20 }), false)).rejects.toThrow(
      /20 rows/,
    );
    // What somebody gave and does not fit is not thrown away.
    await replaceEntry(await bed.opened(game, PEOPLE), own, bed.given('new.cbor', 'no table'));
    await expect(editCell(game.id, own, asked('mood', '0', '2'), false)).rejects.toThrow(
      /new.cbor was given/,
    );
    await expect(editCell(game.id, own, asked('mood', '', '2', { table: 'x' }), false)).rejects.toThrow(
      /no table x/,
    );
  });

  test('beside another of the same file at the same time loses neither', async () => {
    const own = await mod('at once');
    await Promise.all(
      [0, 1, 2, 3].map((row) =>
        editCell(game.id, own, asked('mood', String(row % 3), String((row + 1) % 3), { row }), false),
      ),
    );
    const moods = await Promise.all([0, 1, 2, 3].map(async (row) => (await cellsOf(own, PEOPLE, row))[4]));
    expect(moods).toEqual(['1', '2', '0', '1']);
    // Of two who change one value one is told.
    const both = await Promise.allSettled(
      ['2', '0'].map((text) => editCell(game.id, own, asked('mood', '1', text), false)),
    );
    expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
  });

  test('lies within lists and records, in loose files, and in files that are a row each', async () => {
    const own = await mod('others');
    const recipes = 'tables/recipes.cbor';
    const reading = await openReading(game.id);
    const from = (await rowView(reading, recipes, 0)).values.find(({ name }) => name === 'from')!;
    const count = from.within[0]!.within.find(({ name }) => name === 'count')!;
    expect(count.place).toEqual([0, 'count']);
    const within = { table: recipes, within: [0, 'count'] };
    expect((await editCell(game.id, own, asked('from', count.text, '7', within), true)).isWritten).toBe(true);
    const now = (await rowView(await openReading(game.id, own), recipes, 0)).values.find(
      ({ name }) => name === 'from',
    )!;
    expect(now.within[0]!.within.map(({ name, was }) => [name, was])).toEqual([
      ['item', null],
      ['count', count.text],
    ]);
    // A list of records gets one more behind the one that it is like, and loses one.
    const item = async (row: number, modId: number) =>
      (await rowView(await openReading(game.id, modId), recipes, row)).values.find(
        ({ name }) => name === 'from',
      )!.within;
    const before = (await item(1, own)).length;
    const of = { table: recipes, row: 1, column: 'from', within: [0] };
    const [first] = await item(1, own);
    await editItem(game.id, own, { ...of, does: 'copy', was: first!.item! });
    expect((await item(1, own)).map(({ item: said }) => said).slice(0, 2)).toEqual([
      first!.item,
      first!.item,
    ]);
    expect(await item(1, own)).toHaveLength(before + 1);
    await expect(
      editItem(game.id, own, { ...of, within: [9], does: 'remove', was: first!.item! }),
    ).rejects.toThrow(/another list by now/);
    await editItem(game.id, own, { ...of, within: [1], does: 'remove', was: first!.item! });
    expect(await item(1, own)).toHaveLength(before);
    await expect(
      editItem(game.id, own, {
        table: 'loose/prices.csv',
        row: 1,
        column: 'price',
        within: [0],
        does: 'copy',
        was: '',
      }),
    ).rejects.toThrow(/its form is CSV/);
    const prices = { table: 'loose/prices.csv', row: 1 };
    expect((await editCell(game.id, own, asked('price', '5', '6', prices), false)).isWritten).toBe(true);
    const scenes = { table: 'scenes/*.scene', row: 1 };
    expect((await editCell(game.id, own, asked('wind', '2.5', '2', scenes), false)).isWritten).toBe(true);
    const rows = await ChangeRow.findAll({ where: { modId: own }, order: [['path', 'ASC']] });
    expect(
      rows.map(({ path, preparedBlob }) => [
        path,
        path.endsWith('cbor') || Buffer.from(readBlob(preparedBlob!)).toString(),
      ]),
    ).toEqual([
      ['loose/prices.csv', 'id,price\n1,4\n2,6\n3,6\n'],
      ['scenes/market.scene', '{"scene": "market", "wind": 2.0}\n'],
      ['tables/recipes.cbor', true],
    ]);
    expect(readingOverview(await openReading(game.id, own)).changed).toEqual([
      'loose/prices.csv',
      'scenes/*.scene',
      recipes,
    ]);
    // What a file is called is no value of it.
    const named = (await rowView(await openReading(game.id, own), 'scenes/*.scene', 1)).values[0]!;
    expect([named.text, named.isWritable]).toEqual(['market', false]);
  });

  test('whose numbers have names is read, found, chosen, checked and told by them', async () => {
    const own = await mod('named');
    const words = 'values of: people.mood\nnames: { 0: calm, 1: wary, 2: glad, 3: cross }\n';
    expect(await keepWords(game.id, words)).toEqual({ about: 'values of people.mood' });
    const reading = await openReading(game.id, own);
    const mood = (await rowView(reading, PEOPLE, 1)).values.find(({ name }) => name === 'mood');
    expect(mood).toMatchObject({ text: '1', called: 'wary', hasNames: true, means: null });
    const query = { text: 'GLAD', order: -1, isBackwards: false };
    const glad = rowsView(reading, PEOPLE, query, 0, 50);
    expect(glad.total).toBe(6);
    expect(glad.rows[0]!.cells[4]).toMatchObject({ text: '2', called: 'glad' });
    expect(targetsOf(reading, PEOPLE, 'mood', 'a')).toEqual([
      { value: '0', title: 'calm' },
      { value: '1', title: 'wary' },
      { value: '2', title: 'glad' },
    ]);
    const found = await checkCellIn(game.id, own, asked('mood', '0', '7'));
    expect(found.map(({ state, what }) => `${state}: ${what}`)).toEqual(['look: 7 has no name']);
    await editCell(game.id, own, asked('mood', '0', '2'), false);
    const [row] = await ChangeRow.findAll({ where: { modId: own } });
    expect((await changeInWords(game.id, own, row!.id))![0]!.values[0]).toMatchObject({
      ...{ row: 'Odd Marren', field: 'mood', before: 'calm (0)', after: 'glad (2)' },
    });
    await dropWords(game.id, 'values of people.mood');
    expect(
      (await rowView(await openReading(game.id, own), PEOPLE, 0)).values.find(({ name }) => name === 'mood'),
    ).toMatchObject({
      ...{ called: null, hasNames: false },
    });
  });

  test('may be chosen from the rows that it can mean', async () => {
    const reading = await openReading(game.id);
    expect(targetsOf(reading, PEOPLE, 'home', 'otter').map(({ title }) => title)).toEqual(['otter_stair']);
    expect(targetsOf(reading, PEOPLE, 'home', '')).toHaveLength(
      reading.tables[reading.byId.get('tables/places.cbor')!]!.count,
    );
    expect(targetsOf(reading, PEOPLE, 'mood', '')).toEqual([]);
  });
});

describe('two mods that change one table', () => {
  test('are put together by cells, and are in conflict only where they say one value', async () => {
    const [one, two, three] = [await mod('one'), await mod('two'), await mod('three')];
    await editCell(game.id, one, asked('mood', '0', '1'), false);
    await editCell(game.id, two, asked('mood', '1', '2', { row: 1 }), false);
    await editCell(game.id, two, asked('home', '300', '301'), false);
    const both = await putTogether(game.id, [one, two]);
    expect(both.conflicts).toEqual([]);
    expect(both.together).toEqual([{ path: PEOPLE, mods: [one, two], values: [1, 2], clashes: 0 }]);
    const people = decode(readBlob(both.taken[0]!.preparedBlob!).subarray(3)) as {
      mood: number;
      home: number;
    }[];
    expect(people.slice(0, 2).map(({ mood, home }) => [mood, home])).toEqual([
      [1, 301],
      [2, 303],
    ]);
    // The kept change of the mod is as it was.
    expect(await ChangeRow.count({ where: { modId: two, preparedBlob: both.taken[0]!.preparedBlob } })).toBe(
      0,
    );
    await editCell(game.id, three, asked('mood', '0', '2'), false);
    const all = await putTogether(game.id, [one, two, three]);
    expect(all.conflicts).toEqual([{ path: PEOPLE, mods: [one, two, three], taken: three, by: 'order' }]);
    expect(all.together).toEqual([{ path: PEOPLE, mods: [one, two, three], values: [0, 2, 1], clashes: 1 }]);
    const mixed = decode(readBlob(all.taken[0]!.preparedBlob!).subarray(3)) as { mood: number }[];
    expect(mixed.slice(0, 2).map(({ mood }) => mood)).toEqual([2, 2]);
  });

  test('are built as they are put together, and what is installed is not taken for what a mod is made from', async () => {
    const [one, two, three] = [await mod('first'), await mod('second'), await mod('third')];
    await editCell(game.id, one, asked('mood', '0', '1'), false);
    await editCell(game.id, two, asked('mood', '1', '2', { row: 1 }), false);
    const { buildId, holds } = await buildMods(game.id, two, [one, two], { way: 'packed' }, quietJob());
    expect(holds).toBe(true);
    await installBuild(game.id, buildId, quietJob());
    await bed.scan(game);
    const people = async (): Promise<string[]> =>
      (await Promise.all([0, 1].map((row) => cellsOf(undefined, PEOPLE, row)))).map((cells) => cells[4]!);
    expect(await people()).toEqual(['1', '2']);
    // The mod reads as it is on its own, and goes on from there.
    expect((await cellsOf(one, PEOPLE, 1))[4]).toBe('1');
    await expect(editCell(game.id, three, asked('mood', '1', '0'), false)).rejects.toThrow(
      /something is installed/,
    );
    expect((await editCell(game.id, three, asked('mood', '2', '0', { row: 2 }), false)).isWritten).toBe(true);
    expect((await editCell(game.id, one, asked('home', '300', '302'), false)).isWritten).toBe(true);
    await restoreGame(game.id, 'ask', quietJob());
    await bed.scan(game);
    expect(await people()).toEqual(['0', '1']);
    expect((await cellsOf(three, PEOPLE, 2))[4]).toBe('0');
  });
});

test('what another archive says of the same table is told in words', async () => {
  const rows = storyTables().items as unknown as { id: number; name: string; price: number }[];
  const other = await bed.game('levels', {
    'a.zip': {
      'tables/items.json': JSON.stringify(rows),
      'tables/alone.json': '[{"id": 1, "n": 2}, {"id": 2, "n": 3}]',
    },
    'b.zip': {
      'tables/items.json': JSON.stringify(
        rows.filter((_, i) => i !== 3).map((row, i) => (i === 1 ? { ...row, price: 77 } : row)),
      ),
    },
  });
  const items = 'tables/items.json';
  const overview = readingOverview(await openReading(other.id), await hidingIn(other.id));
  expect(overview.tables.map(({ id, hasVersions }) => [id, hasVersions])).toEqual([
    ['tables/alone.json', false],
    [items, true],
  ]);
  const levels = await levelsOf(other.id, items);
  expect(levels.map(({ archive, isFound }) => [archive, isFound])).toEqual([
    ['b.zip', true],
    ['a.zip', false],
  ]);
  const [words] = await comparedLevel(other.id, items, levels[1]!.archiveId, levels[1]!.index);
  expect(words).toMatchObject({
    ...{ count: 1, added: [], removed: [rows[3]!.name] },
    values: [{ row: rows[1]!.name, field: 'price', before: String(rows[1]!.price), after: '77' }],
  });
  expect(await levelsOf(other.id, 'tables/alone.json')).toHaveLength(1);
  await expect(comparedLevel(other.id, items, 999_999, 0)).rejects.toThrow(/not in this archive/);
  // Another version of the game stands on the shelf as a game of its own.
  const later = await bed.game('levels, later', {
    'c.zip': {
      [items]: JSON.stringify(rows.map((row, i) => (i === 5 ? { ...row, name: 'tarred rope' } : row))),
    },
  });
  const all = await levelsOf(other.id, items);
  expect(all.slice(2)).toMatchObject([
    { archive: 'c.zip', isFound: false, game: { title: 'levels, later' } },
  ]);
  const [since] = await comparedLevel(other.id, items, all[2]!.archiveId, all[2]!.index);
  expect(since).toMatchObject({ count: 2, removed: [rows[3]!.name] });
  expect((await hidingIn(later.id))(items)).toBe(false);
  expect(await hasOtherGames(later.id)).toBe(true);
});
