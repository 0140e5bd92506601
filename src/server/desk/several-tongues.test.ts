import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { buildMod } from '../building/builds';
import { addGame, type GameView } from '../games/games';
import { installBuild } from '../installing/install';
import { restoreGame } from '../installing/restore';
import { addMod } from '../mods/mods';
import { saveScript } from '../opening/own-scripts';
import { quietJob, TestBed } from '../testing/bed';
import { gameTongues, openDesk, type Desk } from './desk';
import { editLines } from './edit-lines';
import { addTongue } from './new-tongue';
import { putLines } from './put-lines';

/** A game whose texts of all languages lie in one table, by a script of one's own; beside it one file a language that says its language itself. */
const bed = new TestBed();
let game: GameView;

const PHRASES = /```yaml\n# example: phrases\n([\s\S]*?)```/.exec(
  fs.readFileSync('docs/media-scripts.md', 'utf8'),
)![1]!;
const SIGNS = `format script: 1
title: Signs
recognise: [{ at: 0, text: SIGN }]
records:
  head: { tag: { type: text(4), fixed: SIGN }, tongue: text(2), count: { type: u8, derived: count(rows) } }
  row: { name: ztext(utf-8), length: { type: u8, derived: size(data) }, data: bytes(length) }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }
entries: { each: rows, path: name, payload: { field: data } }
lines: { encoding: utf-8, key: name, language: head.tongue }
`;

const counted = (text: string): Buffer =>
  Buffer.from(`${String.fromCharCode(Buffer.byteLength(text))}${text}`);
const u16 = (number: number): Buffer => Buffer.from([number & 255, number >> 8]);
const phrases = (
  tongues: readonly (readonly [string, number, string])[],
  rows: readonly (readonly [number, readonly string[]])[],
): Buffer =>
  Buffer.concat([
    Buffer.from('PHRA'),
    Buffer.from([tongues.length]),
    u16(rows.length),
    ...tongues.flatMap(([code, number, name]) => [
      Buffer.from(code),
      Buffer.from([number]),
      Buffer.from(`${name}\0`),
    ]),
    ...rows.flatMap(([id, texts]) => [u16(id), ...texts.map(counted)]),
  ]);
const signs = (tongue: string, rows: Readonly<Record<string, string>>): Buffer =>
  Buffer.concat([
    Buffer.from(`SIGN${tongue}`),
    Buffer.from([Object.keys(rows).length]),
    ...Object.entries(rows).flatMap(([name, text]) => [Buffer.from(`${name}\0`), counted(text)]),
  ]);

const TWO = [
  ['eng', 1, 'English'],
  ['deu', 2, 'Deutsch'],
] as const;
const WAS = phrases(TWO, [
  [7, ['Mind the plank.', 'Achtung, Planke.']],
  [12, ['Krrr.', 'Krrr.']],
]);
const THREE = [...TWO, ['nld', 3, 'Nederlands']] as const;

beforeAll(async () => {
  await bed.begin();
  saveScript(PHRASES);
  saveScript(SIGNS);
  const folder = path.join(bed.folder, 'several');
  bed.zipBytes(path.join(folder, 'data.zip'), { 'text/all.phrases': WAS });
  fs.mkdirSync(path.join(folder, 'signs'));
  for (const [tongue, jetty] of [
    ['en', 'Jetty'],
    ['de', 'Steg'],
  ] as const)
    fs.writeFileSync(path.join(folder, 'signs', `${tongue}.signs`), signs(tongue, { jetty, bell: 'Bim' }));
  game = await addGame({ title: 'several', folder, notes: '' });
  await bed.scan(game);
});
afterAll(() => bed.end());

const dutch = (modId: number): Promise<Desk> =>
  openDesk(game.id, modId, { source: 'en', target: 'nl', others: [] });
const tableNow = (): Buffer => bed.unzippedBytes(path.join(game.folder, 'data.zip'), 'text/all.phrases');

test('a further language goes into a table of several and beside files of one, is changed, installed and taken back', async () => {
  const { id } = await addMod(game.id, 'Dutch');
  const tongues = await gameTongues(game.id, id);
  expect(tongues.map(({ tongue }) => tongue).sort()).toEqual(['de', 'en']);
  await addTongue(game.id, id, 'nl', 'Nederlands');
  const desk = await dutch(id);
  const line = (key: string) => desk.lines.find((one) => one.key === key)!;
  expect(line('7')).toMatchObject({ source: 'Mind the plank.', was: undefined });
  await editLines(
    desk,
    [
      { ...line('7'), text: 'Pas op voor de plank, hij is nat.' },
      { ...line('jetty'), text: 'Steiger' },
    ],
    'writing',
    'Ida',
  );
  const put = await putLines(game.id, id, false);
  expect(put).toMatchObject({
    changed: ['text/all.phrases'],
    added: ['signs/nl.signs'],
    skipped: [],
    lines: 2,
  });
  const first = await buildMod(game.id, id, { way: 'shifted' }, quietJob());
  expect(first.holds).toBe(true);
  await installBuild(game.id, first.buildId, quietJob());
  // What is not translated yet says what the first language says.
  expect(tableNow()).toEqual(
    phrases(THREE, [
      [7, ['Mind the plank.', 'Achtung, Planke.', 'Pas op voor de plank, hij is nat.']],
      [12, ['Krrr.', 'Krrr.', 'Krrr.']],
    ]),
  );
  expect(fs.readFileSync(path.join(game.folder, 'signs', 'nl.signs'))).toEqual(
    signs('nl', { jetty: 'Steiger', bell: 'Bim' }),
  );

  // While it is installed the language is the mod's, and the second edit goes in as the first did.
  await bed.scan(game);
  const again = await dutch(id);
  expect(again.problems).toEqual([]);
  await editLines(again, [{ ...again.lines.find(({ key }) => key === '12')!, text: '' }], 'writing', 'Ida');
  await editLines(
    again,
    [{ ...again.lines.find(({ key }) => key === '7')!, text: 'Pas op.' }],
    'writing',
    'Ida',
  );
  expect(await putLines(game.id, id, false)).toMatchObject({ changed: ['text/all.phrases'], skipped: [] });
  const second = await buildMod(game.id, id, { way: 'shifted' }, quietJob());
  await installBuild(game.id, second.buildId, quietJob());
  expect(tableNow().includes('Pas op.')).toBe(true);
  await restoreGame(game.id, 'ask', quietJob());
  expect(tableNow()).toEqual(WAS);
  expect(fs.readdirSync(path.join(game.folder, 'signs')).sort()).toEqual(['de.signs', 'en.signs']);
});

test('a text that its table has no room for is told of, and nothing of the table goes in', async () => {
  const { id } = await addMod(game.id, 'Česky');
  await addTongue(game.id, id, 'cs', 'Česky');
  const desk = await openDesk(game.id, id, { source: 'de', target: 'cs', others: [] });
  await editLines(
    desk,
    [{ ...desk.lines.find(({ key }) => key === '7')!, text: 'x'.repeat(300) }],
    'writing',
    'Ida',
  );
  const put = await putLines(game.id, id, true);
  // A length of one byte does not say 300.
  expect(put.skipped).toMatchObject([
    { path: 'text/all.phrases', why: expect.stringMatching(/does not fit/) },
  ]);
  expect(put.changed).toEqual([]);
});

test('two further languages of one mod go into one table', async () => {
  const { id } = await addMod(game.id, 'Two');
  for (const [tongue, name, text] of [
    ['pl', 'Polski', 'Uwaga.'],
    ['cs', 'Čeština', 'Pozor.'],
  ] as const) {
    await addTongue(game.id, id, tongue, name);
    const desk = await openDesk(game.id, id, { source: 'en', target: tongue, others: [] });
    await editLines(desk, [{ ...desk.lines.find(({ key }) => key === '7')!, text }], 'writing', 'Ida');
  }
  const put = await putLines(game.id, id, false);
  expect(put).toMatchObject({ changed: ['text/all.phrases'], skipped: [] });
  const { buildId } = await buildMod(game.id, id, { way: 'shifted' }, quietJob());
  await installBuild(game.id, buildId, quietJob());
  const text = tableNow().toString('utf8');
  expect([text.includes('Uwaga.'), text.includes('Pozor.'), tableNow()[4]]).toEqual([true, true, 4]);
  await restoreGame(game.id, 'ask', quietJob());
  expect(tableNow()).toEqual(WAS);
});
