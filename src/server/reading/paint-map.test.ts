import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { decode } from 'cborg';
import fs from 'node:fs';
import path from 'node:path';
import { crc32 } from 'node:zlib';
import { selfSaid } from '../../../demo/world/quillmoor/cbor';
import { storyTables } from '../../../demo/world/quillmoor/tables';
import { ChangeRow } from '@/db';
import type { GameView } from '../games/games';
import { travel } from '../mods/history';
import { addMod } from '../mods/mods';
import { keepChecked } from '../opening/check-script';
import { readBlob } from '../storage/storage';
import { TestBed } from '../testing/bed';
import { mapView, type MapView } from './map-view';
import { openReading } from './open-reading';
import { paintMap, type PaintAsked } from './paint-map';
import { dropWords, keepWords } from './words';

const bed = new TestBed();
let game: GameView;
/** Two layers of one list each, in texts, with spots that have none. */
const ROOMS = {
  rooms: [
    { room: 'attic', width: 4, floor: Array.from({ length: 16 }, (_, i) => (i < 4 ? '' : 'oak')) },
    { room: 'cellar', width: 4, floor: Array.from({ length: 16 }, () => 'mud') },
  ],
  floors: [{ floor: 'oak' }, { floor: 'mud' }, { floor: 'tile' }],
};
beforeAll(async () => {
  await bed.begin();
  const tables = Object.fromEntries(
    Object.entries(storyTables()).map(([name, rows]) => [`tables/${name}.cbor`, selfSaid(rows)]),
  );
  game = await bed.game(
    'painted',
    { 'story.zip': tables },
    {
      'rooms.json': `${JSON.stringify(ROOMS, undefined, 1)}\n`,
      'bare.json': JSON.stringify([
        { place: 'dune', width: 4, sand: [1, 1, 2, 1, 1, 1, 1, 3, 1, 1, 1, 1, 1, 1, 1, 1] },
      ]),
    },
  );
});
afterAll(() => bed.end());

const PLACES = 'tables/places.cbor';
const mod = async (title: string): Promise<number> => (await addMod(game.id, title)).id;
const mapOf = async (modId: number, table = PLACES, row = 0): Promise<MapView> =>
  mapView(await openReading(game.id, modId), table, row);
const asked = (
  map: MapView,
  value: string | number,
  spots: readonly number[],
  more: Partial<PaintAsked> = {},
): PaintAsked => ({
  ...{ table: PLACES, row: 0, field: map.layers[0]!.field, stamp: map.layers[0]!.stamp, spots, value },
  ...more,
});
const titles = ({ tiles, layers }: MapView): (string | undefined)[] =>
  layers[0]!.spots.map((tile) => tiles[tile]?.title);

test('spots get another tile in one step; a second goes on from the first; both are undone', async () => {
  const own = await mod('Paint');
  const before = await mapOf(own);
  const layer = before.layers[0]!;
  const palette = layer.palette.map(({ tile, value }) => [before.tiles[tile]!.title, value] as const);
  const grounds = storyTables().grounds as unknown as { id: number; name: string }[];
  expect([...palette].sort((a, b) => (a[1] as number) - (b[1] as number))).toEqual(
    grounds.map(({ id, name }) => [name, id]),
  );
  // Those in use come first.
  const inUse = new Set(titles(before));
  const firstUnused = palette.findIndex(([title]) => !inUse.has(title));
  if (firstUnused >= 0) expect(palette.slice(firstUnused).every(([title]) => !inUse.has(title))).toBe(true);
  const [name, value] = palette.at(-1)!;
  expect(await paintMap(game.id, own, asked(before, value, [0, 1, 11, 1]))).toMatchObject({
    isWritten: true,
    fit: 'fits',
  });
  const after = await mapOf(own);
  expect(titles(after)).toEqual(titles(before).map((title, i) => ([0, 1, 11].includes(i) ? name : title)));
  await expect(paintMap(game.id, own, asked(before, value, [5]))).rejects.toThrow(/another one by now/);
  await paintMap(game.id, own, asked(after, palette[0]![1], [1]));
  const [row] = await ChangeRow.findAll({ where: { modId: own } });
  const places = decode(readBlob(row!.preparedBlob!), {
    tags: { 55799: (read: () => unknown) => read() } as never,
  }) as { tiles: number[] }[];
  expect([places[0]!.tiles[0], places[0]!.tiles[1], places[0]!.tiles[11]]).toEqual([
    value,
    palette[0]![1],
    value,
  ]);
  expect(await travel(own, 'undo')).toMatch(/^tiles of jetty: a spot of /);
  expect(await travel(own, 'undo')).toBe(
    `tiles of jetty: ${[0, 1, 11].filter((i) => titles(before)[i] !== name).length} spots of ${name}`,
  );
  expect(titles(await mapOf(own))).toEqual(titles(before));
  expect(await ChangeRow.count({ where: { modId: own } })).toBe(0);
});

test('a spot that has the tile already is no change, and one that is not there is refused', async () => {
  const own = await mod('Nothing');
  const map = await mapOf(own);
  const layer = map.layers[0]!;
  const { value } = layer.palette.find(({ tile }) => tile === layer.spots[3])!;
  expect(await paintMap(game.id, own, asked(map, value, [3]))).toMatchObject({ isWritten: false });
  await expect(paintMap(game.id, own, asked(map, value, [layer.spots.length]))).rejects.toThrow(
    /has 80 spots/,
  );
  await expect(paintMap(game.id, own, asked(map, 99_999, [3]))).rejects.toThrow(
    /no tile that jetty could have/,
  );
  await expect(paintMap(game.id, own, asked(map, value, [3], { field: 'names' }))).rejects.toThrow(
    /no map with a layer/,
  );
  await expect(paintMap(game.id, own, asked(map, value, [3], { row: 99 }))).rejects.toThrow(/no map/);
});

test('tiles that are texts, none at all, and numbers that mean no rows', async () => {
  const own = await mod('Others');
  await keepWords(game.id, 'map of: rooms\nwide: width\ntiles: floor\n');
  await keepWords(game.id, 'map of: bare\nwide: width\ntiles: sand\n');
  const rooms = 'rooms.json#rooms';
  const attic = await mapOf(own, rooms);
  expect(attic.layers[0]!.none).toBe('');
  const tile = attic.layers[0]!.palette.find(({ tile: one }) => attic.tiles[one]!.title === 'tile');
  await paintMap(game.id, own, asked(attic, tile!.value, [0, 5], { table: rooms }));
  const second = await mapOf(own, rooms);
  await paintMap(game.id, own, asked(second, '', [6], { table: rooms }));
  const made = await mapOf(own, rooms);
  expect(made.layers[0]!.spots.map((one) => (one < 0 ? '' : made.tiles[one]!.title)).slice(0, 8)).toEqual([
    ...['tile', '', '', '', 'oak', 'tile', '', 'oak'],
  ]);
  const bare = await mapOf(own, 'bare.json');
  expect(bare.layers[0]!.palette.map(({ value: one }) => one)).toEqual([1, 2, 3]);
  await paintMap(game.id, own, asked(bare, 3, [0], { table: 'bare.json' }));
  expect(
    (await mapOf(own, 'bare.json')).tiles[(await mapOf(own, 'bare.json')).layers[0]!.spots[0]!]!.title,
  ).toBe('tile 3');
  await expect(
    paintMap(game.id, own, asked(await mapOf(own, 'bare.json'), 9, [0], { table: 'bare.json' })),
  ).rejects.toThrow(/no tile/);
  await dropWords(game.id, 'map of rooms');
  await dropWords(game.id, 'map of bare');
});

test('a map of a file that a script describes is painted, and its sum follows', async () => {
  await keepChecked(`format script: 1
title: Meadow
recognise: [{ at: 0, text: MEAD }]
records:
  head: { tag: { type: text(4), fixed: MEAD }, count: { type: u16, derived: count(rows) }, check: { type: u32, derived: crc32(stored(rows)) } }
  row: { id: u16, wide: u8, many: { type: u16, derived: count(grass) }, grass: { type: u8, count: many } }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }
entries: { each: rows, path: text(position), payload: { at: '0', size: '0' } }
table: { columns: { id: id, wide: wide, grass: grass } }
`);
  const meadow = (tiles: Uint8Array): Buffer => {
    const head = Buffer.from([1, 0, 200, 0, 0]);
    head.writeUInt16LE(tiles.length, 3);
    const rows = Buffer.concat([head, tiles]);
    const check = Buffer.alloc(4);
    check.writeUInt32LE(crc32(rows));
    return Buffer.concat([Buffer.from('MEAD'), Buffer.from([1, 0]), check, rows]);
  };
  const before = Uint8Array.from({ length: 40_000 }, (_, i) => 1 + (i % 3));
  fs.writeFileSync(path.join(game.folder, 'south.meadow'), meadow(before));
  await bed.scan(game);
  const table = (await openReading(game.id)).tables.find(({ form }) => form === 'Meadow')!.id;
  await keepWords(
    game.id,
    `map of: ${table.replace(/\..*/, '')}\ngrid: squares\nwide: wide\ntiles: [grass]\n`,
  );
  const own = await mod('meadow');
  const map = await mapOf(own, table);
  expect([map.wide, map.high, map.layers[0]!.palette.length]).toEqual([200, 200, 3]);
  const spots = Array.from({ length: 20_000 }, (_, i) => 2 * i);
  const first = await paintMap(game.id, own, asked(map, 2, spots, { table }));
  expect(first).toMatchObject({ isWritten: true, fit: 'fits' });
  const second = await paintMap(game.id, own, asked(map, 3, [0, 1, 39_999], { table, stamp: first.stamp }));
  expect(second.isWritten).toBe(true);
  const wanted = before.map((tile, i) => (i === 0 || i === 1 || i === 39_999 ? 3 : i % 2 === 0 ? 2 : tile));
  const [row] = await ChangeRow.findAll({ where: { modId: own } });
  expect(Buffer.from(readBlob(row!.preparedBlob!)).equals(meadow(wanted))).toBe(true);
});
