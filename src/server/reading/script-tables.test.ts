import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import type { GameView } from '../games/games';
import { keepChecked } from '../opening/check-script';
import { TestBed } from '../testing/bed';
import { openReading } from './open-reading';
import { readingOverview, rowsView } from './reading-view';
import { rowView, targetsOf } from './row-view';
import { dropWords, keepWords } from './words';

/** The script of the documentation, with a further byte in each row. */
const BOATS = /# example: boats\n([\s\S]*?)```/
  .exec(fs.readFileSync('docs/media-scripts.md', 'utf8'))![1]!
  .replace('keeper: u8,', 'keeper: u8, state: u8,')
  .replace('    name: name\n', '    name: name\n    state: { value: state, names: { 0: dry, 1: at sea } }\n');

const bed = new TestBed();
let game: GameView;
beforeAll(async () => {
  await bed.begin();
  const boats = [
    [3, 1, 0, 'otter'],
    [4, 2, 1, 'heron'],
    [5, 9, 2, 'ibis\0'],
  ] as const;
  const rows = boats.map(([id, keeper, state, name]) => {
    const row = Buffer.alloc(9);
    row.writeUInt16LE(id, 0);
    row.set([keeper, state], 2);
    row.write(name, 4, 'latin1');
    return row;
  });
  const head = Buffer.from('BOAT\0\0', 'latin1');
  head.writeUInt16LE(rows.length, 4);
  await keepChecked(BOATS);
  game = await bed.game('boats', {
    'a.zip': {
      'people.json': '[{"id": 1, "name": "Odd"}, {"id": 2, "name": "Ibis"}, {"id": 3, "name": "Wick"}]',
    },
  });
  fs.writeFileSync(path.join(game.folder, 'harbour.boats'), Buffer.concat([head, ...rows]));
  await bed.scan(game);
});
afterAll(() => bed.end());

const asked = { text: '', order: -1, isBackwards: false };

test('a script says which table a column means and what its numbers are called', async () => {
  const reading = await openReading(game.id);
  const { tables, links } = readingOverview(reading);
  const boats = tables.find(({ form }) => form === 'Boats')!.id;
  expect(links).toContainEqual(
    expect.objectContaining({
      table: boats,
      field: 'keeper',
      to: 'people.json',
      source: 'words',
      nowhere: 1,
    }),
  );
  const rows = rowsView(reading, boats, asked, 0, 9).rows.map(({ cells }) => cells);
  expect(rows[0]![1]).toMatchObject({ text: '1', to: [{ title: 'Odd' }] });
  expect(rows.map((cells) => cells[3]!.called)).toEqual(['dry', 'at sea', undefined]);
  expect(rowsView(reading, boats, { ...asked, text: 'at sea' }, 0, 9).total).toBe(1);
  expect(targetsOf(reading, boats, 'state', '')).toEqual([
    { value: '0', title: 'dry' },
    { value: '1', title: 'at sea' },
  ]);
  const card = await rowView(reading, 'people.json', 0);
  expect(card.usedBy).toEqual([expect.objectContaining({ table: boats, field: 'keeper' })]);
});

test('what somebody says for one game goes before its script', async () => {
  const reading = await openReading(game.id);
  const boats = readingOverview(reading).tables.find(({ form }) => form === 'Boats')!.id;
  await keepWords(game.id, 'values of: harbour.state\nnames: { 0: moored }\n');
  const state = async () =>
    (await rowView(await openReading(game.id), boats, 0)).values.find(({ name }) => name === 'state')!.called;
  expect(await state()).toBe('moored');
  await dropWords(game.id, 'values of harbour.state');
  expect(await state()).toBe('dry');
});

test.each([
  ['means: people }', 'means: people, sort: x }', 'sort'],
  ['names: { 0: dry, 1: at sea }', 'names: { 0: dry }, flags: { 1: wet }', "'names' or 'flags'"],
  ['names: { 0: dry, 1: at sea }', 'flags: { 3: wet }', 'a bit: 1, 2, 4, 8 and so on'],
  ['names: { 0: dry, 1: at sea }', 'names: { x: wet }', 'a whole number'],
  ['names: { 0: dry, 1: at sea }', 'names: {}', 'at least one name'],
  ['{ value: keeper, means: people }', '{ means: people }', 'value'],
])('a script that says it wrongly is refused with its line: %s as %s', async (was, is, said) => {
  expect(BOATS).toContain(was);
  await expect(keepChecked(BOATS.replace(was, is))).rejects.toThrow(said);
});
