import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import path from 'node:path';
import { selfSaid } from '../../../demo/world/quillmoor/cbor';
import { SCENE_WORDS, storyTables } from '../../../demo/world/quillmoor/tables';
import { addGame, type GameView } from '../games/games';
import { TestBed } from '../testing/bed';
import { mapView } from './map-view';
import { openReading } from './open-reading';
import { sayLink } from './reading';
import { chainView, findValue, readingOverview, rowsView, tableOfFile, unreadView } from './reading-view';
import { rowView } from './row-view';
import type { StepsView } from './step-view';
import { tableFile } from './table-file';
import { dropWords, keepWords } from './words';

const bed = new TestBed();
let game: GameView;
beforeAll(async () => {
  await bed.begin();
  const story = Object.fromEntries(
    Object.entries(storyTables()).map(([name, rows]) => [
      `tables/${name}.json`,
      JSON.stringify(rows, (name, value: unknown) => (name === 'steps' ? undefined : value)),
    ]),
  );
  game = await bed.game('story', {
    'story.zip': {
      ...story,
      'scenes/jetty.scene': '{"scene": "jetty", "who": 100}',
      'scenes/market.scene': '{"scene": "market", "who": 101}',
      'notes/broken.json': '[{"a": 1}',
      'readme.txt': 'no table',
      'plates/people/odd_calm.gif': 'GIF89a',
      'plates/people/odd_calmer.gif': 'GIF89a',
    },
  });
});
afterAll(() => bed.end());
const id = (name: string): string => `tables/${name}.json`;
const asked = { text: '', order: -1, isBackwards: false };

test('all tables of a game stand there, with what points where and what is broken', async () => {
  const overview = readingOverview(await openReading(game.id));
  expect(overview.tables.map(({ id: own, rows }) => [own, rows])).toEqual(
    expect.arrayContaining([
      [id('people'), 20],
      [id('scenes'), 40],
      ['scenes/*.scene', 2],
    ]),
  );
  expect(overview.problems).toEqual([{ path: 'notes/broken.json', why: expect.stringContaining('JSON') }]);
  expect(overview.links).toContainEqual(
    expect.objectContaining({
      table: id('people'),
      field: 'home',
      to: id('places'),
      by: 'id',
      source: 'found',
    }),
  );
  expect(overview.references).toBeGreaterThan(1500);
  const [file] = overview.tables.find((one) => one.id === id('items'))!.files;
  expect(await tableOfFile(game.id, file!.archiveId, file!.index)).toBe(id('items'));
  expect(await tableOfFile(game.id, file!.archiveId, 9999)).toBeNull();
});

describe('rows', () => {
  test('are listed with what they mean, found by a text, and put in order', async () => {
    const reading = await openReading(game.id);
    const { rows, total } = rowsView(reading, id('people'), asked, 0, 3);
    expect(total).toBe(20);
    const home = reading.tables[reading.byId.get(id('people'))!]!.table.columns.findIndex(
      ({ name }) => name === 'home',
    );
    expect(rows[0]!.cells[home]).toEqual({
      text: '300',
      to: [{ table: id('places'), row: 0, title: 'jetty' }],
    });
    expect(rowsView(reading, id('people'), { ...asked, text: 'IBIS' }, 0, 9).total).toBe(1);
    const sorted = rowsView(reading, id('items'), { ...asked, order: 2, isBackwards: true }, 0, 200).rows;
    const weights = sorted.map(({ cells }) => Number(cells[2]!.text));
    expect(weights).toEqual([...weights].sort((a, b) => b - a));
    expect(() => rowsView(reading, 'none', asked, 0, 1)).toThrow(/no table none/);
  });

  test('are read with links, also within lists, and with every place that names them', async () => {
    const reading = await openReading(game.id);
    const view = await rowView(reading, id('recipes'), 1);
    const from = view.values.find(({ name }) => name === 'from')!;
    expect(from.within[0]!.within[0]!.to[0]!.table).toBe(id('items'));
    const odd = await rowView(reading, id('people'), 0);
    expect(odd.title).toBe('Odd Marren');
    const plate = odd.values.find(({ name }) => name === 'plate')!;
    expect(plate.entry).toMatchObject({ path: 'plates/people/odd_calm.gif', kind: 'picture' });
    expect(odd.values.find(({ name }) => name === 'name')!.entry).toBeNull();
    const story = storyTables() as Record<string, { id: number; from?: number; to?: number; who?: number }[]>;
    const wanted = {
      letters: story.letters!.filter((one) => one.from === 100).length,
      stirs: story.stirs!.filter((one) => one.who === 100).length,
    };
    for (const [name, field] of [
      ['letters', 'from'],
      ['stirs', 'who'],
    ] as const) {
      const users = odd.usedBy.find((one) => one.table === id(name) && one.field === field);
      expect(users?.count ?? 0).toBe(wanted[name]);
    }
    // Two values prove little, and are not followed until somebody says so.
    const link = readingOverview(reading).links.find(({ table }) => table === 'scenes/*.scene');
    expect(link).toMatchObject({ field: 'who', to: id('people'), source: 'likely' });
    await expect(rowView(reading, id('people'), 999)).rejects.toThrow(/20 rows/);
  });

  test('are followed in chains, in both directions, with circles', async () => {
    const reading = await openReading(game.id);
    const there = chainView(reading, id('places'), 0, 'comes of it', 8);
    expect(there.steps.some(({ field, isCircle }) => field === 'near[]' && isCircle)).toBe(true);
    const here = chainView(reading, id('promises'), 0, 'leads here', 2);
    expect(here.rows[0]).toMatchObject({ depth: 0, table: id('promises') });
    expect(here.rows.some(({ depth }) => depth === 2)).toBe(true);
  });
});

test('a number or text is found wherever it stands', async () => {
  const reading = await openReading(game.id);
  const found = findValue(reading, '2901');
  expect(found.map(({ field, count }) => [field, count])).toEqual([
    ['id', 1],
    ['needs', 1],
  ]);
  expect(findValue(reading, ' the OLD ending ')[0]).toMatchObject({ field: 'what', count: 1 });
  expect(findValue(reading, '')).toEqual([]);
});

test('what nothing names is told, with how sure that is', async () => {
  const { rows, fields } = unreadView(await openReading(game.id));
  const promises = rows.find(({ table }) => table === id('promises'))!;
  expect(promises.rows.map(({ title }) => title)).toContain('a boat of glass');
  expect(promises.rows.map(({ title }) => title)).not.toContain('the old ending');
  expect(fields).toContainEqual(expect.objectContaining({ table: id('grounds'), field: 'unused' }));
});

test('what somebody says of a field counts before what was found, and is taken back', async () => {
  const link = { table: id('people'), field: 'age', to: null, by: '' };
  await sayLink(game.id, link, true);
  const sourceOf = async (field: string) =>
    readingOverview(await openReading(game.id)).links.find(
      (one) => one.table === link.table && one.field === field,
    )?.source;
  expect(await sourceOf('age')).toBe('refused');
  await sayLink(game.id, { ...link, field: 'mood', to: id('items'), by: 'id' }, true);
  const reading = await openReading(game.id);
  expect(await sourceOf('mood')).toBe('said');
  // Moods are no items: each of them leads nowhere but 0, which means none.
  expect(unreadView(reading).nowhere.filter(({ field }) => field === 'mood').length).toBeGreaterThan(5);
  await sayLink(game.id, link, false);
  await sayLink(game.id, { ...link, field: 'mood' }, false);
  expect(await sourceOf('age')).toBe('found');
  expect(await sourceOf('mood')).toBeUndefined();
  await expect(sayLink(game.id, { ...link, field: 'none' }, true)).rejects.toThrow(/no field none/);
  await expect(sayLink(game.id, { ...link, to: id('letters'), by: 'from' }, true)).rejects.toThrow(
    /are not called by/,
  );
});

test('a table is taken out as CSV, JSON and XLSX', async () => {
  const csv = await tableFile(game.id, id('grounds'), 'csv');
  expect(Buffer.from(csv.bytes).toString().split('\n').slice(0, 2)).toEqual([
    'id,name,slow,looks,unused',
    '50,reeds,1,grounds/reeds,0',
  ]);
  const json = await tableFile(game.id, id('grounds'), 'json');
  expect(JSON.parse(Buffer.from(json.bytes).toString())).toEqual(storyTables().grounds);
  const xlsx = await tableFile(game.id, id('grounds'), 'xlsx');
  expect(xlsx.name).toBe('tables_grounds.xlsx');
  expect(Buffer.from(xlsx.bytes.subarray(0, 2)).toString()).toBe('PK');
});

test('steps are read in words that somebody gives, and what they say of rows is in the index', async () => {
  const folder = path.join(bed.folder, 'words');
  const story = storyTables();
  bed.zipBytes(
    path.join(folder, 'story.zip'),
    Object.fromEntries(
      Object.entries(story).map(([name, rows]) => [`${name}.cbor`, new Uint8Array(selfSaid(rows))]),
    ),
  );
  const own = await addGame({ title: 'words', folder, notes: '' });
  await bed.scan(own);
  expect((await rowView(await openReading(own.id), 'scenes.cbor', 0)).steps).toEqual([]);
  expect(await keepWords(own.id, SCENE_WORDS)).toEqual({ about: 'scenes.steps' });
  const reading = await openReading(own.id);
  const [{ field, steps }] = (await rowView(reading, 'scenes.cbor', 0)).steps as [StepsView];
  expect(field).toBe('steps');
  expect(steps[0]!.says).toEqual([
    { to: { table: 'people.cbor', row: 0, title: 'Odd Marren' } },
    { text: ' comes to ' },
    { to: { table: 'places.cbor', row: 0, title: 'jetty' } },
    { text: '.' },
  ]);
  expect(steps[2]!.says).toContainEqual({ jump: 20 });
  // They are found by what they say.
  const kept = rowsView(reading, 'scenes.cbor', { ...asked, text: 'a promise is KEPT: two coins' }, 0, 100);
  expect(kept.total).toBeGreaterThan(0);
  expect(kept.total).toBeLessThan(14);
  const promise = await rowView(reading, 'promises.cbor', 0);
  const wanted = (story.scenes as { steps: Buffer }[]).filter(
    ({ steps: bytes }, i) => i % 3 !== 1 && bytes.readUInt16LE(21) === 2000,
  ).length;
  expect(promise.usedBy.find((one) => one.field === 'steps.makes.promise')?.count).toBe(wanted);
  await expect(keepWords(own.id, 'words for: x')).rejects.toThrow(/line 1/);
  await dropWords(own.id, 'scenes.steps');
  expect((await rowView(await openReading(own.id), 'scenes.cbor', 0)).steps).toEqual([]);
  await expect(dropWords(own.id, 'scenes.steps')).rejects.toThrow(/no words/);
});

test('places are maps of their tiles, with what stands on them, also outside of what is seen', async () => {
  const reading = await openReading(game.id);
  const map = await mapView(reading, id('places'), 0);
  expect([map.title, map.grid, map.wide, map.high, map.isSaid]).toEqual(['jetty', 'hexagons', 10, 8, false]);
  expect(map.seen).toEqual({ across: 0, down: 0, wide: 8, high: 6 });
  const places = storyTables().places as unknown as { id: number; tiles: number[] }[];
  const grounds = storyTables().grounds as unknown as { id: number; name: string }[];
  const names = map.layers[0]!.spots.map((tile) => map.tiles[tile]!.title);
  expect(names).toEqual(places[0]!.tiles.map((tile) => grounds.find((one) => one.id === tile)!.name));
  const stirs = storyTables().stirs as unknown as {
    id: number;
    place: number;
    q: number;
    r: number;
    who: number;
  }[];
  const own = stirs.filter(({ place }) => place === 300);
  expect(map.things.map(({ across, down }) => [across, down])).toEqual(own.map(({ q, r }) => [q, r]));
  expect(map.things.map(({ isOutside }) => isOutside)).toEqual(own.map(({ q }) => q === 9));
  const odd = map.things.findIndex(({ title }) => title === 'Odd Marren');
  if (odd >= 0) expect(map.things[odd]!.entry?.path).toBe('plates/people/odd_calm.gif');
  // What they are called is what they say that they are.
  expect(map.things.filter(({ is }) => is.length === 0).length).toBeLessThan(map.things.length);
  expect((await rowView(reading, id('places'), 0)).isMap).toBe(true);
  expect((await rowView(reading, id('people'), 0)).isMap).toBe(false);
  await expect(mapView(reading, id('people'), 0)).rejects.toThrow(/Say it in Words for steps and maps/);
  await expect(mapView(reading, id('places'), 99)).rejects.toThrow(/16 rows/);
});

test('what somebody says of maps counts before what is found, and is taken back', async () => {
  const words = `# by hand\nmap of: places\nwide: 8\ntiles: tiles\n`;
  expect(await keepWords(game.id, words)).toEqual({ about: 'map of places' });
  const said = await mapView(await openReading(game.id), id('places'), 0);
  expect([said.grid, said.wide, said.high, said.things, said.isSaid]).toEqual(['squares', 8, 10, [], true]);
  await keepWords(game.id, 'map of: places\nwide: none\ntiles: tiles\n');
  await expect(mapView(await openReading(game.id), id('places'), 0)).rejects.toThrow(
    /none of row 1.*a number of spots/s,
  );
  await expect(keepWords(game.id, 'map of: places\ntiles: tiles\n')).rejects.toThrow(/'wide'/);
  await dropWords(game.id, 'map of places');
  expect((await mapView(await openReading(game.id), id('places'), 0)).grid).toBe('hexagons');
});
