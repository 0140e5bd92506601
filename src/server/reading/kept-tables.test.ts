import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { encode } from 'cborg';
import fs from 'node:fs';
import path from 'node:path';
import v8 from 'node:v8';
import { gameCatalogue } from '../entries/catalogue';
import type { GameView } from '../games/games';
import { addMod } from '../mods/mods';
import { storageFolder } from '../storage/storage';
import { TestBed } from '../testing/bed';
import { editCell } from './edit-cell';
import { afterJob } from './keep-ready';
import { KeptTables } from './kept-tables';
import { layDown, readBytes } from './laid-tables';
import { openReading } from './open-reading';
import { readTables } from './read-tables';
import { rowTitle } from './reading';

const bed = new TestBed();
let game: GameView;
const places = [
  { id: 31, name: 'Quay', near: [32, 33], at: { x: 1, y: 2 } },
  { id: 32, name: 'Mill', near: [31], at: { x: 3, y: 2 }, seal: new Uint8Array([1, 2, 3]) },
  { id: 33, name: 'Weir', near: [], big: 2n ** 60n },
];
beforeAll(async () => {
  await bed.begin();
  game = await bed.game(
    'kept',
    { 'story.zip': { 'tables/places.cbor': encode(places), 'tables/broken.json': '[{"a": 1}' } },
    { 'prices.csv': 'id,price\n1,4\n2,5\n', 'readme.txt': 'none' },
  );
});
afterAll(() => bed.end());

const PLACES = 'tables/places.cbor';
const kept = (): string[] => fs.readdirSync(storageFolder('readings', String(game.id))).sort();
/** Reads as a server does that has just begun. */
async function afresh() {
  globalThis.zeroLatchReadings?.clear();
  globalThis.zeroLatchModReadings?.clear();
  return openReading(game.id);
}
async function names(table: string): Promise<string[]> {
  const reading = await afresh();
  const number = reading.byId.get(table)!;
  return Array.from({ length: reading.tables[number]!.count }, (_, row) => rowTitle(reading, number, row));
}

/** Keeps another name of the quay than the file has, so that what is taken from there is known by it. */
async function doctor(): Promise<void> {
  const { catalogue, archives } = (await gameCatalogue(game.id))!;
  const { numbers, sizes, modified, archives: positions } = catalogue.columns;
  const row = Array.from({ length: catalogue.count }, (_, i) => i).find((i) => catalogue.path(i) === PLACES)!;
  const own = new KeptTables(game.id, archives[positions[row]!]!);
  const other = places.map((one) => (one.id === 31 ? { ...one, name: 'Kept Quay' } : one));
  own.note(
    { number: numbers[row]!, size: sizes[row]!, modified: modified[row]!, path: PLACES, isLines: false },
    layDown(readBytes(encode(other), PLACES, false)),
  );
  own.keep();
}

test('what was read is kept an archive, whole, and taken from there; what is broken is asked again', async () => {
  const before = await afresh();
  expect(kept()).toHaveLength(2);
  const stamps = kept().map(
    (name) => fs.statSync(path.join(storageFolder('readings', String(game.id)), name)).mtimeMs,
  );
  const after = await afresh();
  expect(after.tables.map(({ id, table }) => [id, table.columns])).toEqual(
    before.tables.map(({ id, table }) => [id, table.columns]),
  );
  expect(after.links).toEqual(before.links);
  expect(after.problems).toEqual([{ path: 'tables/broken.json', why: expect.stringContaining('JSON') }]);
  expect(
    kept().map((name) => fs.statSync(path.join(storageFolder('readings', String(game.id)), name)).mtimeMs),
  ).toEqual(stamps);
  await doctor();
  expect(await names(PLACES)).toEqual(['Kept Quay', 'Mill', 'Weir']);
});

test('a file that is another one is read again, and none of the others', async () => {
  await doctor();
  fs.writeFileSync(path.join(game.folder, 'prices.csv'), 'id,price\n1,4\n2,55\n3,6\n');
  await bed.scan(game);
  const reading = await afresh();
  expect(reading.tables[reading.byId.get('prices.csv')!]!.count).toBe(3);
  expect(await names(PLACES)).toContain('Kept Quay');
  bed.zipBytes(path.join(game.folder, 'story.zip'), { [PLACES]: encode(places.slice(0, 2)) });
  await bed.scan(game);
  expect(await names(PLACES)).toEqual(['Quay', 'Mill']);
});

/** Whole as a file, but what it keeps of each table is not. */
function spoiltWithin(bytes: Buffer): Buffer {
  const { of, files } = v8.deserialize(bytes) as { of: string; files: object[] };
  return v8.serialize({ of, files: files.map((file) => ({ ...file, read: new Uint8Array([1, 2, 3]) })) });
}

test('what cannot be kept is read all the same', async () => {
  const folder = storageFolder('readings', String(game.id));
  fs.rmSync(folder, { recursive: true });
  storageFolder('readings', String(game.id));
  for (const id of (await gameCatalogue(game.id))!.archives.map((one) => one.id))
    fs.mkdirSync(path.join(folder, `${id}.tables`, 'in the way'), { recursive: true });
  expect((await afresh()).byId.has(PLACES)).toBe(true);
  fs.rmSync(folder, { recursive: true });
});

test.each([
  ['cut short', (bytes: Buffer) => bytes.subarray(0, bytes.length >> 1)],
  ['empty', () => Buffer.alloc(0)],
  ['something else', () => Buffer.from('not laid down here at all')],
  ['nothing', () => v8.serialize(null)],
  ['spoilt within', (bytes: Buffer) => spoiltWithin(bytes)],
])('what is kept and %s is read anew', async (_what, spoil) => {
  await afresh();
  const folder = storageFolder('readings', String(game.id));
  for (const name of kept()) {
    const file = path.join(folder, name);
    fs.writeFileSync(file, spoil(fs.readFileSync(file)));
  }
  expect(await names(PLACES)).toEqual(['Quay', 'Mill']);
});

test('cells of a table that comes from what is kept are written as ever', async () => {
  await afresh();
  const modId = (await addMod(game.id, 'Renamed')).id;
  await afresh();
  const asked = { table: PLACES, row: 1, column: 'at', within: ['x'], was: '3', text: '4' };
  expect(await editCell(game.id, modId, asked, false)).toMatchObject({ isWritten: true });
  const { tables, byId } = await openReading(game.id, modId);
  const at = tables[byId.get(PLACES)!]!.table.columns.find(({ name }) => name === 'at')!;
  expect(at.cells[1]).toEqual(
    new Map([
      ['x', 4],
      ['y', 2],
    ]),
  );
});

test('what is kept of archives that are gone goes', async () => {
  await afresh();
  expect(kept()).toHaveLength(2);
  fs.rmSync(path.join(game.folder, 'story.zip'));
  await bed.scan(game);
  await readTables(game.id, (await gameCatalogue(game.id))!);
  expect(kept()).toHaveLength(1);
});

test.each([
  ['scan', 'done', true],
  ['install', 'done', true],
  ['scan', 'running', false],
  ['scan', 'failed', false],
  ['extract', 'done', false],
] as const)('after a job %s that is %s all is read before somebody asks: %s', async (kind, state, isRead) => {
  globalThis.zeroLatchReadings?.clear();
  await afterJob({ kind, state, gameId: game.id });
  expect(globalThis.zeroLatchReadings?.has(game.id) ?? false).toBe(isRead);
});

test('a game that nobody has read is not read by itself, and one that is gone meanwhile is no error', async () => {
  const other = await bed.game('other', { 'a.zip': { 'people.json': '[{"id": 1}, {"id": 2}]' } });
  await afterJob({ kind: 'scan', state: 'done', gameId: other.id });
  expect(globalThis.zeroLatchReadings?.has(other.id) ?? false).toBe(false);
  const gone = 999_999;
  fs.writeFileSync(path.join(storageFolder('readings', String(gone)), '1.tables'), 'of a game that is gone');
  await expect(openReading(gone)).rejects.toThrow();
  await expect(afterJob({ kind: 'scan', state: 'done', gameId: gone })).resolves.toBeUndefined();
});
