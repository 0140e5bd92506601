import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { encode } from 'cborg';
import fs from 'node:fs';
import path from 'node:path';
import { writeHold } from '../../../demo/world/hold-writer';
import { addGame, type GameView } from '../games/games';
import { gameCatalogue } from '../entries/catalogue';
import { addMod, replaceEntry } from '../mods/mods';
import { TestBed } from '../testing/bed';
import { NAMED_FILES } from './named-files';
import { NAMED_IN_TEXTS } from './named-in-texts';
import { openReading } from './open-reading';
import { sayLink, type Reading } from './reading';
import { readingOverview, rowsView, tableOfFile } from './reading-view';
import { rowView } from './row-view';

const bed = new TestBed();
let game: GameView;
const PEOPLE = 'tables/people.json';
const people = [
  { id: 701, name: 'Odd', face: 'faces/odd', says: 'odd.hello' },
  { id: 702, name: 'Ibis', face: 'faces\\ibis.gif', says: 'ibis.hello' },
  { id: 703, name: 'Wick', face: '', says: 'wick.hello' },
  { id: 704, name: 'Lark', face: 'faces/gone', says: 'lark.gone' },
  { id: 705, name: 'Quill', face: 'art/faces/quill.gif', says: 'quill.hello' },
  { id: 706, name: 'Hob', face: './faces/hob.gif', says: 'hob.hello' },
  { id: 707, name: 'Sedge', face: 'FACES/SEDGE', says: 'sedge.hello' },
];
const faces = ['odd', 'ibis', 'quill', 'hob', 'sedge'];
beforeAll(async () => {
  await bed.begin();
  game = await bed.game('beyond', {
    'beyond.zip': {
      [PEOPLE]: JSON.stringify(people),
      ...Object.fromEntries(faces.map((face) => [`art/faces/${face}.gif`, 'GIF89a'])),
      'text/en/talk.lines': ['odd', 'ibis', 'wick', 'quill', 'hob', 'sedge']
        .map((who) => `${who}.hello=Good day, says ${who}.`)
        .join('\n'),
      'story/day.txt': 'begin\nperson(702) comes, sees art/faces/odd.gif\nwait 702\nsay wick.hello\n',
    },
  });
});
afterAll(() => bed.end());

const asked = { text: '', order: -1, isBackwards: false };
const linksOf = (reading: Reading, table: string) =>
  readingOverview(reading).links.filter((link) => link.table === table);
const rowOf = (reading: Reading, table: string, title: string): number =>
  rowsView(reading, table, { ...asked, text: title }, 0, 1).rows[0]!.row;

test('paths of files lead to these, whatever way they are spelled, and back', async () => {
  const reading = await openReading(game.id);
  expect(linksOf(reading, PEOPLE)).toContainEqual(
    expect.objectContaining({ field: 'face', to: NAMED_FILES, by: 'path', values: 6, hits: 5, nowhere: 1 }),
  );
  const odd = rowOf(reading, NAMED_FILES, 'faces/odd');
  const { usedBy, file, title } = await rowView(reading, NAMED_FILES, odd);
  expect(title).toBe('art/faces/odd.gif');
  expect(file).toMatchObject({ path: 'art/faces/odd.gif' });
  expect(usedBy).toEqual([
    expect.objectContaining({ table: PEOPLE, field: 'face', count: 1 }),
    expect.objectContaining({ table: NAMED_IN_TEXTS, field: 'names the file', count: 1 }),
  ]);
  const { values } = await rowView(reading, PEOPLE, 6);
  expect(values.find(({ name }) => name === 'face')!.to).toEqual([
    { table: NAMED_FILES, row: rowOf(reading, NAMED_FILES, 'sedge'), title: 'art/faces/sedge.gif' },
  ]);
  expect(await tableOfFile(game.id, file!.archiveId, file!.index)).toBeNull();
});

test('lines of text are rows that others lead to', async () => {
  const reading = await openReading(game.id);
  const lines = 'text/en/talk.lines';
  expect(linksOf(reading, PEOPLE)).toContainEqual(
    expect.objectContaining({ field: 'says', to: lines, by: 'key', hits: 6, nowhere: 1 }),
  );
  const { usedBy, values } = await rowView(reading, lines, rowOf(reading, lines, 'says wick'));
  expect(values.map(({ text }) => text)).toEqual(['wick.hello', 'Good day, says wick.']);
  expect(values.every(({ isWritable }) => !isWritable)).toBe(true);
  expect(usedBy.map(({ table, rows }) => [table, rows[0]!.title])).toEqual([
    [PEOPLE, 'Wick'],
    [NAMED_IN_TEXTS, 'say wick.hello'],
  ]);
});

test('scripts name rows by a number behind what says their table, and by keys that are no words', async () => {
  const reading = await openReading(game.id);
  expect(
    rowsView(reading, NAMED_IN_TEXTS, asked, 0, 9).rows.map(({ cells }) => cells.map((one) => one.text)),
  ).toEqual([
    ['person(702) comes, sees art/faces/odd.gif', 'story/day.txt', 'line 2', 'art/faces/odd.gif'],
    ['say wick.hello', 'story/day.txt', 'line 4', ''],
  ]);
  const { usedBy } = await rowView(reading, PEOPLE, 1);
  expect(usedBy).toContainEqual(
    expect.objectContaining({ table: NAMED_IN_TEXTS, field: 'names of people.json', count: 1 }),
  );
});

test('what somebody says to mean nothing is not followed to files either, until that is taken back', async () => {
  await sayLink(game.id, { table: PEOPLE, field: 'face', to: null, by: '' }, true);
  const refused = await openReading(game.id);
  expect(linksOf(refused, PEOPLE)).toContainEqual(
    expect.objectContaining({ field: 'face', to: NAMED_FILES, source: 'refused' }),
  );
  const odd = await rowView(refused, PEOPLE, 0);
  expect(odd.values.find(({ name }) => name === 'face')!.to).toEqual([]);
  await sayLink(game.id, { table: PEOPLE, field: 'face', to: null, by: '' }, false);
  expect(linksOf(await openReading(game.id), PEOPLE)).toContainEqual(
    expect.objectContaining({ field: 'face', source: 'found' }),
  );
});

test('numbers and digits that entries are kept by lead to them', async () => {
  const folder = path.join(bed.folder, 'hashed');
  const entry = (name: string, data: string) => ({ path: name, data: () => Buffer.from(data) });
  const names = ['art/a.gif', 'art/b.gif', 'art/c.gif'];
  const hold = path.join(folder, 'h00-art.hold');
  fs.mkdirSync(folder);
  writeHold(
    hold,
    names.map((name) => entry(name, 'GIF89a')),
    { roll: true, rank: 0, salt: Buffer.alloc(16) },
  );
  const first = await addGame({ title: 'Hashed', folder, notes: '' });
  await bed.scan(first);
  const { catalogue } = (await gameCatalogue(first.id))!;
  const hashes = names.map((name) => catalogue.at(catalogue.stack(name)[0]!).hash!);
  expect(hashes[0]).toMatch(/^[0-9a-f]{16}$/);
  writeHold(
    path.join(folder, 'h01-tables.hold'),
    [
      {
        path: 'tables/looks.cbor',
        data: () =>
          Buffer.from(
            encode(
              hashes.map((hash, id) => ({ id, hex: hash, number: BigInt(`0x${hash}`), count: 3_000_000 })),
            ),
          ),
      },
    ],
    { roll: true, rank: 1, salt: Buffer.alloc(16) },
  );
  await bed.scan(first);
  const reading = await openReading(first.id);
  const fields = linksOf(reading, 'tables/looks.cbor').map(({ field, to, hits }) => [field, to, hits]);
  expect(fields).toContainEqual(['hex', NAMED_FILES, 3]);
  expect(fields).toContainEqual(['number', NAMED_FILES, 3]);
  expect(fields.map(([field]) => field)).not.toContain('count');
});

test('a mod that changes lines has them as rows still, with what leads to them, and scripts that name rows', async () => {
  const mod = await addMod(game.id, 'Other words');
  const lines = 'text/en/talk.lines';
  const text = 'odd.hello=Mind the plank.\nwick.hello=Good evening.\n';
  await replaceEntry(await bed.opened(game, lines), mod.id, bed.given('talk.lines', text));
  const reading = await openReading(game.id, mod.id);
  const own = rowsView(reading, lines, asked, 0, 9).rows.map(({ cells }) => cells[1]!.text);
  expect(own).toEqual(['Mind the plank.', 'Good evening.']);
  const { usedBy } = await rowView(reading, lines, 1);
  expect(usedBy.map(({ table }) => table)).toEqual([PEOPLE, NAMED_IN_TEXTS]);
  expect(rowsView(reading, NAMED_FILES, asked, 0, 9).total).toBe(5);
});

test('a field of which some values are files is only likely, and followed once somebody says so', async () => {
  const some = ['art/a.gif', 'art/b.gif', 'no/c', 'no/d'].map((face, id) => ({ id, face }));
  const own = await bed.game('likely', {
    'a.zip': { 'rows.json': JSON.stringify(some), 'art/a.gif': 'GIF89a', 'art/b.gif': 'GIF89a' },
  });
  const link = async () => linksOf(await openReading(own.id), 'rows.json');
  expect(await link()).toEqual([
    expect.objectContaining({ field: 'face', to: NAMED_FILES, source: 'likely' }),
  ]);
  expect(rowsView(await openReading(own.id), NAMED_FILES, asked, 0, 9).total).toBe(0);
  await sayLink(own.id, { table: 'rows.json', field: 'face', to: NAMED_FILES, by: 'path' }, true);
  expect(await link()).toEqual([expect.objectContaining({ source: 'said', nowhere: 2 })]);
  expect(rowsView(await openReading(own.id), NAMED_FILES, asked, 0, 9).total).toBe(2);
});
