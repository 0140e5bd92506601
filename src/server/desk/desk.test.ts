import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import type { LineId } from '@/media/text/core/desk';
import { EXCHANGE_FORMS } from '@/media/text/node/exchange';
import { buildMod } from '../building/builds';
import type { GameView } from '../games/games';
import { installBuild } from '../installing/install';
import { restoreGame } from '../installing/restore';
import { addMod, listChanges, preparedBytes, replaceEntry } from '../mods/mods';
import { keepBlob } from '../storage/storage';
import { quietJob, TestBed } from '../testing/bed';
import { addComment } from './comments';
import { checkAll, gameTongues, openDesk, type Desk } from './desk';
import { deskLine, deskOverview, deskRows, doneByDay, findingsFor, usualTongues } from './desk-view';
import { editLines, keepTerm, stepDesk } from './edit-lines';
import { lookAtBrought, takeBrought, takeLines } from './exchange';
import { doToLines, lookAtReplacing, replaceLines } from './many-lines';
import { addTongue, dropTongue } from './new-tongue';
import { putLines } from './put-lines';
import { sayWriting } from './writers';

const bed = new TestBed();
let game: GameView;
const FERRY = {
  en: 'title\tThe night ferry\nfare\tFare: {coins}\nfog\tFog.\n',
  de: 'title\tDie Nachtfähre\nfare\tFährgeld: {coins}\n',
};
beforeAll(async () => {
  await bed.begin();
  game = await bed.game('desk', {
    'data.zip': {
      'text/en/ferry.lines': FERRY.en,
      'text/de/ferry.lines': FERRY.de,
      'text/en/birds.lines': 'heron\tKrrr.\nfog\tFog.\n',
      'text/de/birds.lines': 'heron\tKrrr.\nfog\tNebel.\n',
      'text/tongues.lines': 'en\tEnglish\nde\tDeutsch\n',
      'text/names.csv': 'key,en,de\nodd,Odd,Odd\nwidow,"The Reed Widow",Die Schilfwitwe\n',
      'scenes/jetty.json': '{"number": 3, "line": "jetty"}',
    },
  });
});
afterAll(() => bed.end());

const QUERY = { shown: 'all', text: '', place: '', speaker: '', order: 'game', isBackwards: false } as const;
const ferry = (key: string): LineId => ({ place: 'text/ferry.lines', key, nth: 0 });
const german = (modId: number): Promise<Desk> =>
  openDesk(game.id, modId, { source: 'en', target: 'de', others: [] });
const write = async (desk: Desk, key: string, text: string, base?: string, by = 'Ida') =>
  editLines(desk, [{ ...ferry(key), text, base }], `writing ${key}`, by);
const read = (name: string): string => bed.unzipped(path.join(game.folder, 'data.zip'), name);
const textOf = async (modId: number, key: string): Promise<string> =>
  (await deskLine(await german(modId), ferry(key))).row.text;

test('tables are found by their languages and endings, and stand side by side', async () => {
  const { id } = await addMod(game.id, 'Side by side');
  const { tongues, chosen } = await usualTongues(game.id, id, {});
  expect(tongues.map(({ tongue, name }) => [tongue, name])).toEqual(
    expect.arrayContaining([
      ['en', 'English'],
      ['de', 'German'],
    ]),
  );
  expect(chosen).toEqual({ source: 'en', target: 'de', others: [] });
  const desk = await german(id);
  expect(desk.lines.map(({ place, key, source, was }) => [place, key, source, was])).toEqual([
    ['text/birds.lines', 'heron', 'Krrr.', 'Krrr.'],
    ['text/birds.lines', 'fog', 'Fog.', 'Nebel.'],
    ['text/ferry.lines', 'title', 'The night ferry', 'Die Nachtfähre'],
    ['text/ferry.lines', 'fare', 'Fare: {coins}', 'Fährgeld: {coins}'],
    ['text/ferry.lines', 'fog', 'Fog.', undefined],
    ['text/names.csv', 'odd', 'Odd', 'Odd'],
    ['text/names.csv', 'widow', 'The Reed Widow', 'Die Schilfwitwe'],
    ['text/tongues.lines', 'en', 'English', 'English'],
    ['text/tongues.lines', 'de', 'Deutsch', 'Deutsch'],
  ]);
  const overview = await deskOverview(desk, tongues);
  expect(overview.counts).toMatchObject({ empty: 1, changed: 0, failing: 0 });
  expect(overview.byTable.find(({ path: at }) => at === 'text/de/ferry.lines')).toMatchObject({
    lines: 3,
    filled: 2,
  });
});

describe('lines', () => {
  test('are written, undone and done again; another text since then is left', async () => {
    const { id } = await addMod(game.id, 'Steps');
    const desk = await german(id);
    expect(await write(desk, 'fog', 'Nebel.', '')).toMatchObject({ changed: 1, conflicts: [] });
    expect(await write(desk, 'title', 'Nachtfähre', 'Die Nachtfähre')).toMatchObject({ changed: 1 });
    expect((await deskRows(desk, { ...QUERY, shown: 'changed' }, 0, 10)).rows.map(({ key }) => key)).toEqual([
      'title',
      'fog',
    ]);
    expect(await stepDesk(id, 'de', 'undo', 'Ida')).toEqual({ what: 'writing title', left: 0 });
    expect(await textOf(id, 'title')).toBe('Die Nachtfähre');
    await stepDesk(id, 'de', 'redo', 'Ida');
    expect(await textOf(id, 'title')).toBe('Nachtfähre');
    await stepDesk(id, 'de', 'undo', 'Ida');
    await stepDesk(id, 'de', 'undo', 'Ida');
    expect(await textOf(id, 'fog')).toBe('');
    await expect(stepDesk(id, 'de', 'undo', 'Ida')).rejects.toThrow(/nothing to undo/);
    await write(desk, 'fog', 'Dunst.');
    await expect(stepDesk(id, 'de', 'redo', 'Ida')).rejects.toThrow(/nothing to do again/);
  });

  test('two who edit one line lose nothing', async () => {
    const { id } = await addMod(game.id, 'Two');
    const desk = await german(id);
    await write(desk, 'title', 'Idas Fähre', 'Die Nachtfähre', 'Ida');
    const second = await write(desk, 'title', 'Jons Fähre', 'Die Nachtfähre', 'Jon');
    expect(second).toMatchObject({
      changed: 0,
      conflicts: [{ key: 'title', base: 'Die Nachtfähre', now: 'Idas Fähre', by: 'Ida', text: 'Jons Fähre' }],
    });
    expect(await textOf(id, 'title')).toBe('Idas Fähre');
    await write(desk, 'title', 'Jons Fähre', 'Idas Fähre', 'Jon');
    await addComment(game.id, id, ferry('title'), 'Is that meant?', 'Ida');
    const view = await deskLine(desk, ferry('title'));
    expect(view.earlier.map(({ text, by }) => [text, by])).toEqual([
      ['Jons Fähre', 'Jon'],
      ['Idas Fähre', 'Ida'],
    ]);
    expect(view.comments).toMatchObject([{ text: 'Is that meant?', by: 'Ida' }]);
    expect((await doneByDay(id, 'de')).map(({ lines }) => lines)).toEqual([2]);
  });

  test('of two that come at once from one text, one is told of the other', async () => {
    const { id } = await addMod(game.id, 'At once');
    const desk = await german(id);
    const both = await Promise.all(
      ['Ida', 'Jon'].map((by) => write(desk, 'title', `${by}s Fähre`, 'Die Nachtfähre', by)),
    );
    expect(both.map(({ changed }) => changed)).toEqual([1, 0]);
    expect(both[1]!.conflicts).toMatchObject([{ now: 'Idas Fähre', by: 'Ida' }]);
  });

  test('said twice in one go are as they are said last; signs that are none are refused', async () => {
    const { id } = await addMod(game.id, 'Twice');
    const desk = await german(id);
    const twice = ['A', 'B'].map((text) => ({ ...ferry('title'), text }));
    expect(await editLines(desk, twice, 'writing', 'Ida')).toMatchObject({ changed: 1 });
    expect(await textOf(id, 'title')).toBe('B');
    await expect(write(desk, 'title', 'a\0b')).rejects.toThrow(/title has a zero/);
    await expect(write(desk, 'title', 'a\ud800b')).rejects.toThrow(/half of a pair/);
    expect(await write(desk, 'title', 'Fähre 🛶')).toMatchObject({ changed: 1 });
  });

  test('tell who writes in them, until they are left', async () => {
    const { id } = await addMod(game.id, 'Writers');
    const desk = await german(id);
    const writer = async () => (await deskLine(desk, ferry('title'))).row.writer;
    sayWriting(id, 'de', ferry('title'), { by: 'Ida', who: 'page 1' }, true);
    expect(await writer()).toEqual({ by: 'Ida', who: 'page 1' });
    // A page has one line under its hands.
    sayWriting(id, 'de', ferry('fog'), { by: 'Ida', who: 'page 1' }, true);
    expect(await writer()).toBeNull();
    sayWriting(id, 'de', ferry('fog'), { by: 'Ida', who: 'page 1' }, false);
    expect((await deskLine(desk, ferry('fog'))).row.writer).toBeNull();
  });

  test('are said to be done and reviewed, and put back to what the game has', async () => {
    const { id } = await addMod(game.id, 'States');
    const desk = await german(id);
    const one = { ...QUERY, place: 'text/ferry.lines' };
    expect(await doToLines(desk, one, { state: 'done' }, 'Ida')).toMatchObject({ changed: 2 });
    await editLines(desk, [{ ...ferry('title'), state: 'reviewed' }], 'reviewing', 'Jon');
    expect((await deskRows(desk, { ...QUERY, shown: 'done' }, 0, 10)).total).toBe(1);
    expect(await doToLines(desk, one, { fill: true }, 'Ida')).toMatchObject({ changed: 1 });
    expect(await textOf(id, 'fog')).toBe('Fog.');
    // A text that becomes another one is no longer done.
    await write(desk, 'title', 'Anders');
    expect((await deskLine(desk, ferry('title'))).row.state).toBe('draft');
    expect(await doToLines(desk, one, { isBack: true }, 'Ida')).toMatchObject({ changed: 3 });
    expect(desk.work.size).toBe(0);
  });

  test('are checked as they are typed, with the glossary, and offered what was said before', async () => {
    const { id } = await addMod(game.id, 'Checked');
    const desk = await german(id);
    expect(findingsFor(desk, ferry('fare'), 'Fährgeld').map(({ code }) => code)).toContain('missing value');
    await keepTerm(id, 'de', 'ferry', 'Fähre');
    expect(findingsFor(desk, ferry('title'), 'Das Nachtboot').map(({ code }) => code)).toEqual(['term']);
    await checkAll(desk);
    await keepTerm(id, 'de', 'ferry', '');
    expect(findingsFor(desk, ferry('title'), 'Das Nachtboot')).toEqual([]);
    // The fog of the birds was said before.
    expect((await deskLine(desk, ferry('fog'))).offers).toMatchObject([{ text: 'Nebel.', likeness: 1 }]);
    expect((await deskLine(desk, ferry('fog'))).alike).toMatchObject([
      { place: 'text/birds.lines', key: 'fog' },
    ]);
  });

  test('are found and replaced, but those that are left out', async () => {
    const { id } = await addMod(game.id, 'Replaced');
    const desk = await german(id);
    const how = { find: 'die', by: 'Eine', matchesCase: false, isWhole: true };
    const { shown, count } = await lookAtReplacing(desk, QUERY, how);
    expect([count, shown.map(({ text }) => text)]).toEqual([2, ['Eine Nachtfähre', 'Eine Schilfwitwe']]);
    await replaceLines(desk, QUERY, how, new Set(['text/names.csv\0widow\0' + '0']), 'Ida');
    expect([...desk.work.values()].map(({ text }) => text)).toEqual(['Eine Nachtfähre']);
    await stepDesk(id, 'de', 'undo', 'Ida');
    expect(desk.work.size).toBe(0);
  });
});

describe.each(EXCHANGE_FORMS.map((form) => [form]))('as %s', (form) => {
  test('lines go out and come back; what changed here as well is asked', async () => {
    const { id } = await addMod(game.id, `Out as ${form}`);
    const desk = await german(id);
    const { bytes, name } = await takeLines(desk, form, QUERY);
    const blob = keepBlob(bytes);
    expect(await lookAtBrought(desk, blob, name)).toMatchObject({
      changed: 0,
      unknown: 0,
      missing: 0,
      lines: 9,
      conflicts: [],
    });
    // A file in which somebody translated the fog; and somebody here changed the title.
    const text = form === 'xlsx' ? undefined : new TextDecoder().decode(bytes);
    if (text === undefined) return;
    const edited = new TextEncoder().encode(
      text.replaceAll('Fährgeld: {coins}', 'Preis: {coins}').replaceAll('Die Nachtfähre', 'Das Nachtboot'),
    );
    const given = keepBlob(edited);
    await write(desk, 'title', 'Hier geändert');
    const found = await lookAtBrought(desk, given, name);
    expect(found).toMatchObject({ changed: 1, shown: [{ key: 'fare', text: 'Preis: {coins}' }] });
    expect(found.conflicts).toMatchObject([{ key: 'title', now: 'Hier geändert', text: 'Das Nachtboot' }]);
    expect(await takeBrought(desk, given, name, [], 'Ida')).toMatchObject({ changed: 1, conflicts: [] });
    expect(await textOf(id, 'title')).toBe('Hier geändert');
    await takeBrought(desk, given, name, ['text/ferry.lines\0title\0' + '0'], 'Ida');
    expect(await textOf(id, 'title')).toBe('Das Nachtboot');
  });
});

test('a file for another game, and one with shifted columns, change nothing and say so', async () => {
  const { id } = await addMod(game.id, 'Wrong files');
  const desk = await german(id);
  const give = (text: string): Promise<unknown> =>
    lookAtBrought(desk, keepBlob(new TextEncoder().encode(text)), 'a.csv');
  await expect(give('Key,English,German\nq.1,a,b\nq.2,c,d\n')).rejects.toThrow(/None of the 2 lines/);
  await expect(
    give(
      'Key,English,German,Table\ntitle,x,The night ferry,text/ferry.lines\nfare,y,Fare,text/ferry.lines\nfog,z,Fog.,text/ferry.lines\nheron,k,Krrr.,text/birds.lines\n',
    ),
  ).rejects.toThrow(/columns may be shifted/);
  await expect(give('a,b\n')).rejects.toThrow(/cannot be taken.*a column 'Key'/s);
  expect(desk.work.size).toBe(0);
});

describe('put into the mod', () => {
  test('only what changed is written, failing lines stop it, and what is taken back goes again', async () => {
    const { id } = await addMod(game.id, 'Put');
    const desk = await german(id);
    await write(desk, 'fare', 'Fährgeld');
    await write(desk, 'fog', 'Nebel.');
    await editLines(
      desk,
      [{ place: 'text/names.csv', key: 'widow', nth: 0, text: 'Die Witwe, im Schilf' }],
      'writing',
      'Ida',
    );
    await expect(putLines(game.id, id, false)).rejects.toThrow(/1 line in German fails a check: fare/);
    expect(await listChanges(game.id, id)).toEqual([]);
    expect(await putLines(game.id, id, true)).toMatchObject({
      changed: ['text/de/ferry.lines', 'text/names.csv'],
      added: [],
      lines: 3,
    });
    await write(desk, 'fare', 'Preis: {coins}');
    expect(await putLines(game.id, id, false)).toMatchObject({
      changed: ['text/de/ferry.lines', 'text/names.csv'],
    });
    const { buildId, holds } = await buildMod(game.id, id, { way: 'shifted' }, quietJob());
    expect(holds).toBe(true);
    await installBuild(game.id, buildId, quietJob());
    expect(read('text/de/ferry.lines')).toBe('title\tDie Nachtfähre\nfare\tPreis: {coins}\nfog\tNebel.\n');
    expect(read('text/names.csv')).toBe(
      'key,en,de\nodd,Odd,Odd\nwidow,"The Reed Widow","Die Witwe, im Schilf"\n',
    );
    expect(read('text/en/ferry.lines')).toBe(FERRY.en);
    await bed.scan(game);
    // While it is installed, the desk still stands on what the game had.
    expect((await deskLine(await german(id), ferry('fog'))).row).toMatchObject({ was: null, text: 'Nebel.' });
    await restoreGame(game.id, 'ask', quietJob());
    await bed.scan(game);
    await doToLines(await german(id), { ...QUERY, place: 'text/ferry.lines' }, { isBack: true }, 'Ida');
    expect(await putLines(game.id, id, false)).toMatchObject({
      changed: ['text/names.csv'],
      takenOut: ['text/de/ferry.lines'],
    });
  });

  test('a table that somebody gave as a file keeps its other lines', async () => {
    const { id } = await addMod(game.id, 'Both');
    const given = bed.given('ferry.lines', 'title\tVon Hand\nfare\tHandgeld: {coins}\n');
    await replaceEntry(await bed.opened(game, 'text/de/ferry.lines'), id, given);
    await write(await german(id), 'title', 'Vom Tisch');
    await putLines(game.id, id, false);
    const { buildId } = await buildMod(game.id, id, { way: 'shifted' }, quietJob());
    await installBuild(game.id, buildId, quietJob());
    expect(read('text/de/ferry.lines')).toBe('title\tVom Tisch\nfare\tHandgeld: {coins}\n');
    // The second time as well, and without the lines of the desk it is what was given.
    const prepared = async (): Promise<string> => {
      const [change] = await listChanges(game.id, id);
      return new TextDecoder().decode((await preparedBytes(game.id, id, change!.id)).bytes);
    };
    await editLines(
      await german(id),
      [
        { ...ferry('title'), isBack: true },
        { ...ferry('fare'), text: 'Tischgeld: {coins}' },
      ],
      'writing',
      'Ida',
    );
    await putLines(game.id, id, false);
    expect(await prepared()).toBe('title\tVon Hand\nfare\tTischgeld: {coins}\n');
    await doToLines(await german(id), QUERY, { isBack: true }, 'Ida');
    expect(await putLines(game.id, id, false)).toMatchObject({ takenOut: ['text/de/ferry.lines'] });
    expect(await prepared()).toBe('title\tVon Hand\nfare\tHandgeld: {coins}\n');
    await restoreGame(game.id, 'ask', quietJob());
    await bed.scan(game);
  });

  test('a language that the game never had comes with all its tables and its name', async () => {
    const { id } = await addMod(game.id, 'Nederlands');
    await expect(addTongue(game.id, id, 'xx-none', 'X')).rejects.toThrow(/no language that is known/);
    await expect(addTongue(game.id, id, 'German', 'Deutsch')).rejects.toThrow(/has German already/);
    expect(await addTongue(game.id, id, 'Dutch', 'Nederlands')).toBe('nl');
    expect((await gameTongues(game.id, id)).at(-1)).toMatchObject({
      tongue: 'nl',
      name: 'Nederlands',
      isNew: true,
    });
    const desk = await openDesk(game.id, id, { source: 'en', target: 'nl', others: ['de'] });
    expect(desk.lines.find(({ key }) => key === 'title')).toMatchObject({
      source: 'The night ferry',
      was: undefined,
      others: ['Die Nachtfähre'],
    });
    await write(desk, 'title', 'De nachtveer');
    await expect(dropTongue(game.id, id, 'nl')).rejects.toThrow(/1 lines are translated/);
    expect(await putLines(game.id, id, false)).toMatchObject({
      changed: ['text/names.csv', 'text/tongues.lines'],
      added: ['text/nl/birds.lines', 'text/nl/ferry.lines'],
      lines: 1,
    });
    const { buildId, holds } = await buildMod(game.id, id, { way: 'shifted' }, quietJob());
    expect(holds).toBe(true);
    await installBuild(game.id, buildId, quietJob());
    expect(read('text/nl/ferry.lines')).toBe('title\tDe nachtveer\nfare\tFare: {coins}\nfog\tFog.\n');
    // A table of several languages gets a column; what is not translated yet says what the first one says.
    expect(read('text/names.csv')).toBe(
      'key,en,de,nl\nodd,Odd,Odd,Odd\nwidow,"The Reed Widow",Die Schilfwitwe,The Reed Widow\n',
    );
    expect(read('text/tongues.lines')).toBe('en\tEnglish\nde\tDeutsch\nnl\tNederlands\n');
    // Once more while it is installed: what the mod brought is none of the game's.
    await bed.scan(game);
    const again = await openDesk(game.id, id, { source: 'en', target: 'nl', others: [] });
    expect(again.problems).toEqual([]);
    expect((await gameTongues(game.id, id)).at(-1)).toMatchObject({ tongue: 'nl', isNew: true });
    await write(again, 'fare', 'Veergeld: {coins}');
    expect(await putLines(game.id, id, false)).toMatchObject({
      ...{ added: ['text/nl/birds.lines', 'text/nl/ferry.lines'], takenOut: [], skipped: [], lines: 2 },
    });
    const second = await buildMod(game.id, id, { way: 'shifted' }, quietJob());
    await installBuild(game.id, second.buildId, quietJob());
    expect(read('text/nl/ferry.lines')).toBe('title\tDe nachtveer\nfare\tVeergeld: {coins}\nfog\tFog.\n');
    await restoreGame(game.id, 'ask', quietJob());
    await bed.scan(game);
    // The second time nothing is added twice.
    await write(desk, 'fog', 'Mist.');
    await putLines(game.id, id, false);
    expect((await listChanges(game.id, id)).map(({ path: at }) => at).sort()).toEqual([
      'text/names.csv',
      'text/nl/birds.lines',
      'text/nl/ferry.lines',
      'text/tongues.lines',
    ]);
  });

  test('files of the folder itself get a new language beside them, and lose it again', async () => {
    const own = await bed.game('loose-desk', { 'data.zip': { 'a.txt': 'Prose.' } });
    fs.mkdirSync(path.join(own.folder, 'lang'), { recursive: true });
    for (const [tongue, text] of [
      ['english', 'start=Begin\nend=End\n'],
      ['german', 'start=Los\nend=Ende\n'],
    ] as const)
      fs.writeFileSync(path.join(own.folder, 'lang', `${tongue}.properties`), text);
    await bed.scan(own);
    const { id } = await addMod(own.id, 'Loose');
    await addTongue(own.id, id, 'nl', 'Nederlands');
    const desk = await openDesk(own.id, id, { source: 'en', target: 'nl', others: [] });
    await editLines(desk, [{ ...desk.lines[0]!, text: 'Begin maar' }], 'writing', 'Ida');
    expect(await putLines(own.id, id, false)).toMatchObject({ added: ['lang/dutch.properties'] });
    const { buildId, holds } = await buildMod(own.id, id, { way: 'shifted' }, quietJob());
    expect(holds).toBe(true);
    await installBuild(own.id, buildId, quietJob());
    const file = path.join(own.folder, 'lang', 'dutch.properties');
    expect(fs.readFileSync(file, 'utf8')).toBe('start=Begin maar\nend=End\n');
    await bed.scan(own);
    const again = await openDesk(own.id, id, { source: 'en', target: 'nl', others: [] });
    expect(again.lines.map(({ key, was }) => [key, was])).toEqual([
      ['start', undefined],
      ['end', undefined],
    ]);
    await editLines(again, [{ ...again.lines[1]!, text: 'Einde' }], 'writing', 'Ida');
    expect(await putLines(own.id, id, false)).toMatchObject({
      added: ['lang/dutch.properties'],
      skipped: [],
    });
    const second = await buildMod(own.id, id, { way: 'shifted' }, quietJob());
    await installBuild(own.id, second.buildId, quietJob());
    expect(fs.readFileSync(file, 'utf8')).toBe('start=Begin maar\nend=Einde\n');
    await restoreGame(own.id, 'ask', quietJob());
    expect(fs.existsSync(file)).toBe(false);
  });
});

test('a game without tables says what would be one', async () => {
  const empty = await bed.game('no-lines', { 'data.zip': { 'a.txt': 'Prose.' } });
  const { id } = await addMod(empty.id, 'None');
  await expect(usualTongues(empty.id, id, {})).rejects.toThrow(/No tables of texts are known/);
});
