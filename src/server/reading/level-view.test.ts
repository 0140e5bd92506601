import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { writeHold } from '../../../demo/world/hold-writer';
import { itemTable } from '../../../demo/world/lanternfen/texts';
import { layouts, piecesTable } from '../../../demo/world/lanternfen/levels';
import { PROPS } from '../../../demo/world/drawing/props';
import { addGame, type GameView } from '../games/games';
import { TestBed } from '../testing/bed';
import { isLevel, levelView } from './level-view';
import { NAMED_FILES } from './named-files';
import { openReading } from './open-reading';
import { readingOverview, rowsView } from './reading-view';
import { rowView } from './row-view';
import { dropWords, keepWords } from './words';

const bed = new TestBed();
let game: GameView;
const JETTY = 'levels/jetty.layout';
const PIECES = 'levels/pieces.json';
const forms = ['jetty/jetty', 'props/lantern/lantern', 'actors/odd/odd', 'creatures/otter/otter'];
beforeAll(async () => {
  await bed.begin();
  const folder = path.join(bed.folder, 'levels');
  fs.mkdirSync(folder);
  const files = new Map<string, Buffer>([
    ...layouts(),
    [PIECES, Buffer.from(piecesTable())],
    ['items/goods.csv', Buffer.from(itemTable(Object.keys(PROPS)))],
    ...forms.map((name): [string, Buffer] => [`${name}.form`, Buffer.from(`form ${name}`)]),
  ]);
  const entries = [...files].map(([name, data]) => ({ path: name, data: () => data }));
  writeHold(path.join(folder, 'h00.hold'), entries, { roll: true, rank: 0, salt: Buffer.alloc(16) });
  game = await addGame({ title: 'Levels', folder, notes: '' });
  await bed.scan(game);
});
afterAll(() => bed.end());

test('levels of a game are found, with their pieces, goods and forms', async () => {
  const reading = await openReading(game.id);
  const overview = readingOverview(reading, undefined, (table) => isLevel(reading, table, -1));
  expect(overview.tables.filter((one) => one.isLevel).map(({ id }) => id)).toEqual(
    [...layouts().keys()].sort(),
  );
  const links = overview.links.map(({ table, field, to, source }) => `${table} ${field} ${to} ${source}`);
  expect(links).toEqual(
    expect.arrayContaining([
      `${JETTY} under ${JETTY} found`,
      `${JETTY} piece ${PIECES} words`,
      `${PIECES} parts[].is ${PIECES} found`,
      `${PIECES} good items/goods.csv found`,
      `${PIECES} look ${NAMED_FILES} likely`,
    ]),
  );
});

describe('a level', () => {
  test('is a tree of what hangs on what, where it stands, with what pieces are made of', async () => {
    const reading = await openReading(game.id);
    const level = await levelView(reading, JETTY, -1);
    expect(level).toMatchObject({ title: JETTY, axes: ['x', 'y', 'z'], isCut: false, isSaid: false });
    expect(level.parts).toHaveLength(49);
    expect(level.parts[0]).toMatchObject({
      title: 'plank',
      parent: -1,
      item: null,
      to: { table: JETTY, row: 0 },
    });
    const lamp = level.parts.find(({ title }) => title === 'lantern')!;
    const post = level.parts[lamp.parent]!;
    const rail = level.parts[post.parent]!;
    const plank = level.parts[rail.parent]!;
    expect([post.title, rail.title, plank.title]).toEqual(['lamp post', 'rail with lamps', 'plank']);
    expect(lamp).toMatchObject({ item: 1, to: { table: PIECES }, is: [{ table: PIECES, title: 'lantern' }] });
    expect(lamp.at[2]).toBeCloseTo(2.1, 5);
    expect(Math.hypot(lamp.at[0] - post.at[0], lamp.at[1] - post.at[1])).toBeCloseTo(0.4, 5);
    expect(lamp.entry).toMatchObject({ path: 'props/lantern/lantern.form' });
  });

  test('is also a row that holds parts in a list; others are none', async () => {
    const reading = await openReading(game.id);
    const row = rowsView(reading, PIECES, { text: 'eel stall', order: -1, isBackwards: false }, 0, 1).rows[0]!
      .row;
    expect((await rowView(reading, PIECES, row)).isLevel).toBe(true);
    const { parts, title } = await levelView(reading, PIECES, row);
    expect([title, ...parts.map((one) => one.title)]).toEqual([
      'eel stall',
      'plank',
      'eel basket',
      'eel basket',
      'lantern',
    ]);
    expect((await rowView(reading, PIECES, 0)).isLevel).toBe(false);
    await expect(levelView(reading, PIECES, 0)).rejects.toThrow(/not known what plank is put together from/);
    await expect(levelView(reading, 'items/goods.csv', -1)).rejects.toThrow(/not known what/);
    await expect(levelView(reading, PIECES, 999)).rejects.toThrow(/15 rows/);
  });

  test('is read as somebody says it, until that is taken back', async () => {
    const words = 'parts of: jetty\nis: [piece]\nat: [y, x]\n';
    expect(await keepWords(game.id, words)).toEqual({ about: 'parts of jetty' });
    const level = await levelView(await openReading(game.id), JETTY, -1);
    expect(level).toMatchObject({ axes: ['y', 'x'], isSaid: true });
    expect(level.words).toBe(words);
    expect(level.parts.filter(({ to }) => to.table === JETTY).every(({ parent }) => parent === -1)).toBe(
      true,
    );
    await dropWords(game.id, 'parts of jetty');
    expect((await levelView(await openReading(game.id), JETTY, -1)).isSaid).toBe(false);
  });
});
