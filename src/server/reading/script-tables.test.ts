import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import type { GameView } from '../games/games';
import { keepChecked } from '../opening/check-script';
import { travel } from '../mods/history';
import { addMod } from '../mods/mods';
import { textOf as scriptText } from '../opening/own-scripts';
import { TestBed } from '../testing/bed';
import { editRow } from './edit-rows';
import { openReading } from './open-reading';
import { readingOverview, rowsView } from './reading-view';
import { rowView, targetsOf } from './row-view';
import { sayLink } from './reading';
import { writeMeaning } from './write-meaning';
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

test('a row is added to such a table and taken out again, as steps of a mod', async () => {
  const { id } = await addMod(game.id, 'Boats');
  const reading = await openReading(game.id, id);
  const boats = readingOverview(reading).tables.find(({ form }) => form === 'Boats')!.id;
  const card = await rowView(reading, boats, 1);
  expect(card).toMatchObject({ mayEditRows: true, freeKey: '6' });
  const asked = { table: boats, row: 1, does: 'copy', title: card.title } as const;
  expect(await editRow(game.id, id, asked, false)).toMatchObject({ finding: null, row: 3, fit: 'fits' });
  const after = await openReading(game.id, id);
  expect(rowsView(after, boats, { text: '', order: -1, isBackwards: false }, 0, 9).total).toBe(4);
  const made = await rowView(after, boats, 3);
  expect(made.values.slice(0, 2).map(({ text }) => text)).toEqual(['6', '2']);
  expect(
    await editRow(
      game.id,
      id,
      { table: boats, row: 0, does: 'remove', title: (await rowView(after, boats, 0)).title },
      false,
    ),
  ).toMatchObject({ finding: null, row: 0 });
  const left = await openReading(game.id, id);
  expect(rowsView(left, boats, { text: '', order: -1, isBackwards: false }, 0, 9).total).toBe(3);
  await travel(id, 'undo');
  await travel(id, 'undo');
  const back = await openReading(game.id, id);
  expect(rowsView(back, boats, { text: '', order: -1, isBackwards: false }, 0, 9).total).toBe(3);
  expect((await rowView(back, boats, 2)).values[0]!.text).toBe('5');
});

describe('a press writes what a field means into the script of its table', () => {
  /** The boats under a script that says nothing of keepers. */
  async function plain(title: string): Promise<{ story: GameView; boats: string }> {
    const script = BOATS.replace('title: Boats', `title: ${title}`)
      .replace('keeper: { value: keeper, means: people }', 'keeper: keeper   # by number')
      .replaceAll('BOAT', title.toUpperCase().slice(0, 4));
    await keepChecked(script);
    const story = await bed.game(title, { 'a.zip': { 'people.json': PEOPLE, 'folk/people.json': FOLK } });
    const bytes = fs.readFileSync(path.join(game.folder, 'harbour.boats'));
    bytes.write(title.toUpperCase().slice(0, 4), 'latin1');
    fs.writeFileSync(path.join(story.folder, `${title}.boats`), bytes);
    await bed.scan(story);
    return { story, boats: `${title}.boats` };
  }
  const PEOPLE = '[{"id": 1, "name": "Odd"}, {"id": 2, "name": "Ibis"}, {"id": 9, "name": "Wick"}]';
  const FOLK = '[{"id": 1, "who": "Lark"}, {"id": 2, "who": "Hob"}]';
  const linkOf = async (id: number, table: string) =>
    readingOverview(await openReading(id)).links.find((one) => one.table === table && one.field === 'keeper');

  test('as a version of it, known from then on wherever the script is used; what was said is said there', async () => {
    const { story, boats } = await plain('Ferries');
    await sayLink(story.id, { table: boats, field: 'keeper', to: 'people.json', by: 'id' }, true);
    expect(await linkOf(story.id, boats)).toMatchObject({ source: 'said', script: 'Ferries' });
    const made = await writeMeaning(story.id, { table: boats, field: 'keeper' });
    expect(made).toMatchObject({ title: 'Ferries', version: 2, isCopy: false });
    expect(scriptText(made.script, 2)).toContain(
      'keeper: { value: keeper, means: people.json }   # by number',
    );
    expect(await linkOf(story.id, boats)).toMatchObject({ source: 'words', to: 'people.json', script: null });
    // Once more there is nothing to be written.
    await expect(writeMeaning(story.id, { table: boats, field: 'keeper' })).resolves.toMatchObject({
      version: 2,
    });
  });

  test('a table that means its own rows says so, since the script reads others as well', async () => {
    const { story, boats } = await plain('Rafts');
    await sayLink(story.id, { table: boats, field: 'keeper', to: boats, by: 'id' }, true);
    const made = await writeMeaning(story.id, { table: boats, field: 'keeper' });
    expect(scriptText(made.script, 2)).toContain('keeper: { value: keeper, means: itself }');
    fs.copyFileSync(path.join(story.folder, boats), path.join(story.folder, 'Others.boats'));
    await bed.scan(story);
    for (const table of [boats, 'Others.boats'])
      expect(await linkOf(story.id, table)).toMatchObject({ source: 'words', to: table, by: 'id' });
  });

  test('not where a script cannot say it, with why', async () => {
    const { story, boats } = await plain('Punts');
    await expect(writeMeaning(story.id, { table: 'people.json', field: 'id' })).rejects.toThrow(
      'Nothing is known',
    );
    await sayLink(story.id, { table: boats, field: 'keeper', to: 'people.json', by: 'name' }, true);
    await expect(writeMeaning(story.id, { table: boats, field: 'keeper' })).rejects.toThrow(
      'which is not name',
    );
    await sayLink(story.id, { table: 'folk/people.json', field: 'id', to: 'people.json', by: 'id' }, true);
    await expect(writeMeaning(story.id, { table: 'folk/people.json', field: 'id' })).rejects.toThrow(
      'its form is JSON. What you say of it is kept with the game',
    );
  });
});
