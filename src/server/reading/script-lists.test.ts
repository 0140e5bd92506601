import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { ChangeRow } from '@/db';
import { buildMods } from '../building/builds';
import type { GameView } from '../games/games';
import { installBuild } from '../installing/install';
import { travel } from '../mods/history';
import { addMod } from '../mods/mods';
import { keepChecked } from '../opening/check-script';
import { readBlob } from '../storage/storage';
import { quietJob, TestBed } from '../testing/bed';
import { editCell } from './edit-cell';
import { editItem } from './edit-item';
import { editStep } from './edit-step';
import { openReading } from './open-reading';
import { resizeSteps } from './resize-steps';
import { rowView, type RowView, type ValueView } from './row-view';
import { keepWords } from './words';

/** A made-up file of scenes: a list of who is there, one of what lies there, and steps in bytes, each behind its count. */
const SCRIPT = `format script: 1
title: Play
recognise: [{ at: 0, text: PLAY }]
records:
  head: { tag: { type: text(4), fixed: PLAY }, count: { type: u16, derived: count(rows) } }
  row:
    id: u16
    crowd: { type: u8, derived: count(who) }
    who: { type: u16, count: crowd }
    things: { type: u8, derived: count(lies) }
    lies: { type: thing, count: things }
    room: { type: u16, derived: size(steps) }
    steps: bytes(room)
  thing: { called: ztext, at: i16 }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }
entries: { each: rows, path: text(position), payload: { at: '0', size: '0' } }
table:
  columns: { id: id, who: who, lies: lies, steps: steps }
`;
const WORDS = `words for: evening.steps
words:
  1: { called: comes, with: { who: u16 people }, says: '{who} comes.' }
  2: { called: waits, with: { else: u8 jump }, says: 'On at {else}.' }
  0: { called: ends, says: 'The end.' }
`;
const BEFORE = Buffer.from([
  ...Buffer.from('PLAY'),
  ...[2, 0],
  ...[7, 0, 2, 1, 0, 2, 0, 1, ...Buffer.from('oar\0'), 5, 0, 6, 0, 2, 5, 1, 1, 0, 0],
  ...[8, 0, 0, 0, 0, 0],
]);

const bed = new TestBed();
let game: GameView;
let table = '';
beforeAll(async () => {
  await bed.begin();
  await keepChecked(SCRIPT);
  game = await bed.game('play', {
    'a.zip': {
      'people.json': '[{"id": 1, "name": "Odd"}, {"id": 2, "name": "Ibis"}, {"id": 3, "name": "Wick"}]',
    },
  });
  fs.writeFileSync(path.join(game.folder, 'evening.play'), BEFORE);
  await bed.scan(game);
  await keepWords(game.id, WORDS);
  table = (await openReading(game.id)).tables.find(({ form }) => form === 'Play')!.id;
});
afterAll(() => bed.end());

const view = async (modId?: number, row = 0): Promise<RowView> =>
  rowView(await openReading(game.id, modId), table, row);
const valueOf = ({ values }: RowView, name: string): ValueView => values.find((one) => one.name === name)!;
const fileOf = async (modId: number): Promise<Buffer> => {
  const [change] = await ChangeRow.findAll({ where: { modId } });
  return Buffer.from(readBlob(change!.preparedBlob!));
};

test('lists, records and steps in bytes of a file that a script describes are read and may be changed', async () => {
  const { values, steps } = await view();
  expect(values.map(({ name }) => name)).toEqual(['id', 'who', 'lies', 'steps']);
  const who = valueOf(await view(), 'who').within;
  expect(who.map(({ text, isWritable, item }) => [text, isWritable, item])).toEqual([
    ['1', true, '1'],
    ['2', true, '2'],
  ]);
  const [lie] = valueOf(await view(), 'lies').within;
  expect(lie!.within.map(({ name, text, isWritable }) => [name, text, isWritable])).toEqual([
    ['called', 'oar', true],
    ['at', '5', true],
  ]);
  expect(
    steps[0]!.steps.map(({ says }) =>
      says.map((part) => ('text' in part ? part.text : 'to' in part ? part.to.title : '?')).join(''),
    ),
  ).toEqual(['On at ?.', 'Odd comes.', 'The end.']);
  expect(steps[0]!.isWritable).toBe(true);
  expect(valueOf(await view(undefined, 1), 'who').first).toMatchObject({ text: '1' });
});

test('they are changed one after the other, built, installed, and undone', async () => {
  const { id: mod } = await addMod(game.id, 'A fuller evening');
  const cell = { table, row: 0, column: 'who', within: [1], was: '2', text: '3' };
  expect((await editCell(game.id, mod, cell, false)).isWritten).toBe(true);
  const name = { table, row: 0, column: 'lies', within: [0, 'called'], was: 'oar', text: 'lantern' };
  expect((await editCell(game.id, mod, name, true)).isWritten).toBe(true);
  const item = { table, row: 0, column: 'who', within: [0], was: '1' };
  expect((await editItem(game.id, mod, { ...item, does: 'copy' })).fit).toBe('fits');
  const first = { table, row: 1, column: 'who', within: [0], was: '' };
  expect((await editItem(game.id, mod, { ...first, does: 'first' })).fit).toBe('fits');
  const said = { table, row: 0, field: 'steps', at: 2, was: ['1'], values: ['2'] };
  expect((await editStep(game.id, mod, said, false)).isWritten).toBe(true);
  const { stamp } = (await view(mod)).steps[0]!;
  const more = { table, row: 0, field: 'steps', at: 2, stamp, add: { code: 1, values: ['3'] } };
  expect((await resizeSteps(game.id, mod, more, false)).fit).toBe('fits');
  const wanted = Buffer.from([
    ...Buffer.from('PLAY'),
    ...[2, 0],
    ...[7, 0, 3, 1, 0, 1, 0, 3, 0, 1, ...Buffer.from('lantern\0'), 5, 0, 9, 0, 2, 8, 1, 3, 0, 1, 2, 0, 0],
    ...[8, 0, 1, 1, 0, 0, 0, 0],
  ]);
  expect(await fileOf(mod)).toEqual(wanted);
  const { buildId } = await buildMods(game.id, mod, [mod], { way: 'packed' }, quietJob());
  await installBuild(game.id, buildId, quietJob());
  expect(fs.readFileSync(path.join(game.folder, 'evening.play'))).toEqual(wanted);
  expect(await travel(mod, 'undo')).toBe('comes put at 2 of steps of evening 7');
  expect(await travel(mod, 'undo')).toBe('comes at 2 of evening 7: 1 to 2');
  expect(await travel(mod, 'undo')).toBe('who of evening 8: a first item, 1');
});
