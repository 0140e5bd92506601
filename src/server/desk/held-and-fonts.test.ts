import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { buildMod } from '../building/builds';
import { addGame, type GameView } from '../games/games';
import { installBuild } from '../installing/install';
import { restoreGame } from '../installing/restore';
import { addMod, listChanges } from '../mods/mods';
import { quietJob, TestBed } from '../testing/bed';
import { checkAll, openDesk, type Desk } from './desk';
import { deskLine, findingsFor } from './desk-view';
import { editLines, stepDesk } from './edit-lines';
import { addForms } from './further-forms';
import { findHeld, putOnDesk } from './held-texts';
import { putLines } from './put-lines';

const bed = new TestBed();
let game: GameView;
const PROGRAM = Buffer.concat([
  Buffer.from('\x7fELF\x02\x01\x01\0'),
  Buffer.alloc(56),
  Buffer.from('No ferry is due.\0\0\0\0Who rang my bell?\0\0\0'),
  Buffer.alloc(16, 7),
]);
const FONT =
  'node_modules/@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff';
beforeAll(async () => {
  await bed.begin();
  const folder = path.join(bed.folder, 'held');
  bed.zipBytes(path.join(folder, 'data.zip'), {
    'text/en/ferry.lines': 'eels_one\t{n} eel\neels_other\t{n} eels\nfog\tFog.\n',
    'text/pl/ferry.lines': 'eels_one\t{n} wegorz\neels_other\t{n} wegorza\n',
    'type/talk.woff': fs.readFileSync(FONT),
  });
  fs.writeFileSync(path.join(folder, 'ferry.bin'), PROGRAM);
  game = await addGame({ title: 'held', folder, notes: '' });
  await bed.scan(game);
});
afterAll(() => bed.end());

const polish = (modId: number): Promise<Desk> =>
  openDesk(game.id, modId, { source: 'en', target: 'pl', others: [] });
const ferry = (key: string) => ({ place: 'text/ferry.lines', key, nth: 0 });

describe('texts of a program', () => {
  const place = 'ferry.bin, texts of the program';
  const id = (key: string) => ({ place, key, nth: 0 });

  test('are found, put on the desk, written in their room, built, installed and taken back', async () => {
    const mod = await addMod(game.id, 'Program');
    const all = await findHeld(game.id, mod.id, '');
    expect(all.texts.map(({ text, room, isOn }) => [text, room, isOn])).toEqual([
      ['No ferry is due.', 19, false],
      ['Who rang my bell?', 19, false],
    ]);
    const { texts, total } = await findHeld(game.id, mod.id, 'FERRY');
    expect(total).toBe(1);
    await putOnDesk(game.id, mod.id, texts, true);
    await putOnDesk(game.id, mod.id, texts, true);
    expect((await findHeld(game.id, mod.id, 'ferry')).texts[0]!.isOn).toBe(true);
    const desk = await polish(mod.id);
    const line = desk.lines.find((one) => one.place === place)!;
    expect(line).toMatchObject({ source: 'No ferry is due.', was: 'No ferry is due.', limit: { most: 19 } });
    const tooLong = findingsFor(desk, id(line.key), 'Nie ma zadnego promu dzisiaj.');
    expect(tooLong).toMatchObject([{ code: 'too long', state: 'wrong' }]);
    await editLines(desk, [{ ...id(line.key), text: 'Nie ma promu.' }], 'writing', 'Ida');
    expect(await putLines(game.id, mod.id, false)).toMatchObject({ changed: ['ferry.bin'], skipped: [] });
    // Put in once more it is the same.
    expect(await putLines(game.id, mod.id, false)).toMatchObject({ changed: ['ferry.bin'], skipped: [] });
    const build = await buildMod(game.id, mod.id, { way: 'shifted' }, quietJob());
    await installBuild(game.id, build.buildId, quietJob());
    const file = path.join(game.folder, 'ferry.bin');
    const installed = fs.readFileSync(file);
    expect(installed.length).toBe(PROGRAM.length);
    expect(installed.toString('latin1')).toContain('Nie ma promu.\0\0\0\0\0\0\0Who rang my bell?');
    await restoreGame(game.id, 'ask', quietJob());
    expect(fs.readFileSync(file).equals(PROGRAM)).toBe(true);
    await stepDesk(mod.id, 'pl', 'undo', 'Ida');
    await putLines(game.id, mod.id, false);
    expect(await listChanges(game.id, mod.id)).toEqual([]);
    await putOnDesk(game.id, mod.id, texts, false);
    expect((await polish(mod.id)).lines.some((one) => one.place === place)).toBe(false);
  });

  test('one text that two languages say otherwise is said to be one only', async () => {
    const mod = await addMod(game.id, 'Two tongues');
    const { texts } = await findHeld(game.id, mod.id, 'bell');
    await putOnDesk(game.id, mod.id, texts, true);
    const key = `0x${texts[0]!.offset.toString(16).padStart(8, '0')}`;
    for (const target of ['pl', 'en']) {
      const desk = await openDesk(game.id, mod.id, { source: 'en', target, others: [] });
      await editLines(desk, [{ ...id(key), text: `${target}: bell` }], 'writing', '');
    }
    const put = await putLines(game.id, mod.id, true);
    expect(put.skipped).toEqual([
      { path: 'ferry.bin', why: expect.stringMatching(/the same line in all languages/) },
    ]);
  });

  test('that are not there are refused', async () => {
    const mod = await addMod(game.id, 'None');
    await expect(
      putOnDesk(game.id, mod.id, [{ archive: '.', path: 'ferry.bin', offset: 3 }], true),
    ).rejects.toThrow(/has no text at byte 3/);
    expect((await findHeld(game.id, mod.id, 'no such text')).total).toBe(0);
  });
});

test('signs that the font of the game has not are told, with a spelling that it has', async () => {
  const mod = await addMod(game.id, 'Font');
  const desk = await polish(mod.id);
  expect(desk.fonts.map(({ name, isForTexts }) => [name, isForTexts])).toEqual([['talk.woff', true]]);
  const [found] = findingsFor(desk, ferry('fog'), 'Mgła.');
  expect(found).toMatchObject({
    code: 'font',
    state: 'look',
    what: 'ł (U+0142) is not in talk.woff',
    mend: 'Mgla.',
  });
  expect(findingsFor(desk, ferry('fog'), 'Mgla.')).toEqual([]);
});

test('forms that the language has and the table lacks are added as lines, and taken back', async () => {
  const mod = await addMod(game.id, 'Forms');
  const desk = await polish(mod.id);
  await checkAll(desk);
  const view = await deskLine(desk, ferry('eels_other'));
  expect(view.lacks).toEqual(['eels_few', 'eels_many']);
  expect(view.findings).toMatchObject([{ code: 'forms', what: 'Polish also has few, many' }]);
  const before = desk.lines.length;
  expect(await addForms(desk, ferry('eels_other'), 'Ida')).toMatchObject({ changed: 2 });
  expect(desk.lines.slice(before).map(({ key, source, was }) => [key, source, was])).toEqual([
    ['eels_few', '{n} eels', undefined],
    ['eels_many', '{n} eels', undefined],
  ]);
  expect((await deskLine(desk, ferry('eels_other'))).findings).toEqual([]);
  await expect(addForms(desk, ferry('eels_other'), 'Ida')).rejects.toThrow(/has all forms/);
  await editLines(desk, [{ ...ferry('eels_few'), text: '{n} wegorze' }], 'writing', 'Ida');
  expect(await putLines(game.id, mod.id, false)).toMatchObject({ changed: ['text/pl/ferry.lines'] });
  const build = await buildMod(game.id, mod.id, { way: 'shifted' }, quietJob());
  await installBuild(game.id, build.buildId, quietJob());
  expect(bed.unzipped(path.join(game.folder, 'data.zip'), 'text/pl/ferry.lines')).toBe(
    'eels_one\t{n} wegorz\neels_other\t{n} wegorza\neels_few\t{n} wegorze\neels_many\t{n} wegorza\n',
  );
  // Another desk of the same mod finds them again.
  const again = await openDesk(game.id, mod.id, { source: 'pl', target: 'pl', others: [] });
  expect(again.lines.filter(({ key }) => key.startsWith('eels'))).toHaveLength(4);
  await restoreGame(game.id, 'ask', quietJob());
  for (let i = 0; i < 2; i++) await stepDesk(mod.id, 'pl', 'undo', 'Ida');
  expect((await deskLine(await polish(mod.id), ferry('eels_few'))).row.text).toBe('');
});
