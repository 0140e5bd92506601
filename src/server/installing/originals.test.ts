import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { buildMod } from '../building/builds';
import type { GameView } from '../games/games';
import { addMod, replaceEntry } from '../mods/mods';
import { quietJob, TestBed } from '../testing/bed';
import { installBuild, planInstall } from './install';
import { chooseOriginal, knownOf, noteKnown, questionOriginals, type Questioned } from './originals';
import { restoreGame } from './restore';

/** Whether what is to be overwritten is what the game came with, asked before it is. */
const bed = new TestBed();
beforeAll(() => bed.begin());
afterAll(() => bed.end());

const NAME = 'base.zip';
let count = 0;
let game: GameView;
let file: string;
beforeEach(async () => {
  game = await bed.game(`originals ${++count}`, { [NAME]: { 'odd.txt': `Odd says nothing, ${count}.` } });
  file = path.join(game.folder, NAME);
});

const hashOf = (of: string): string => createHash('sha256').update(fs.readFileSync(of)).digest('hex');
const asked = async (): Promise<Questioned | undefined> =>
  (await questionOriginals(game.id, [{ path: NAME, sha256: hashOf(file) }]))[0];
/** Another archive with one file in it, in the place of the one that is there. */
const changed = (text: string): void => {
  fs.rmSync(file);
  bed.zip(file, { 'odd.txt': text });
};
const builtMod = async (title: string, text: string): Promise<number> => {
  const { id } = await addMod(game.id, title);
  await replaceEntry(await bed.opened(game, 'odd.txt'), id, bed.given('odd.txt', text));
  return (await buildMod(game.id, id, { way: 'shifted' }, quietJob())).buildId;
};

describe('a file that is to be overwritten', () => {
  test('is not asked about where nothing speaks against it', async () => {
    expect(await asked()).toBeUndefined();
  });

  test('is, where an update or another tool has changed it', async () => {
    changed('Something much longer than what was there before, so that the size differs.');
    expect((await asked())!.doubts).toEqual([
      expect.stringMatching(/^It had [\d,]+ bytes when it was first seen/),
    ]);
  });

  test('is, where it was written anew with as many bytes', async () => {
    const bytes = fs.readFileSync(file);
    fs.writeFileSync(file, bytes);
    fs.utimesSync(file, new Date(), new Date(Date.now() + 60_000));
    expect((await asked())!.doubts).toEqual([expect.stringContaining('written anew')]);
  });

  test('is, where the list of originals says another sum, and is not where it says this one', async () => {
    await noteKnown(game.id, { listing: `${'ab'.repeat(32)}  ${NAME}\n` });
    expect((await asked())!.doubts).toEqual([
      expect.stringContaining('The list of originals says SHA-256 abababababab'),
    ]);
    changed('What the makers sent later, which is what the list is about.');
    await noteKnown(game.id, { listing: `${hashOf(file)} *${NAME}\n` });
    expect(await asked()).toBeUndefined();
  });

  test('is, where a build of this application made it', async () => {
    const build = await builtMod('Hello', 'Odd says hello.');
    await installBuild(game.id, build, quietJob());
    const mod = fs.readFileSync(file);
    await restoreGame(game.id, 'ask', quietJob());
    expect(await asked()).toBeUndefined();
    fs.writeFileSync(file, mod);
    expect((await asked())!.doubts).toContainEqual(
      'It is what a build here made for Hello, not what the game came with',
    );
    // What was kept before the installation is offered in its place.
    expect((await asked())!.others).toEqual([
      { sha256: expect.any(String), what: expect.stringMatching(/^kept on \d{4}-\d\d-\d\d before /) },
    ]);
  });

  test('is, where a file lies beside it as tools leave them, which may be taken for it', async () => {
    const aside = `${file}.bak`;
    fs.copyFileSync(file, aside);
    changed('what a tool wrote over it');
    const question = (await asked())!;
    expect(question.doubts).toContainEqual(`${NAME}.bak lies beside it, as tools leave it that overwrite`);
    expect(question.others).toEqual([{ sha256: hashOf(aside), what: `${NAME}.bak` }]);
    await chooseOriginal(game.id, NAME, hashOf(aside));
    expect(await asked()).toBeUndefined();
    // It is an answer about these bytes: others are asked about again.
    changed('and what came after that, of another length');
    expect(await asked()).toBeDefined();
  });

  test('keeps what was chosen as its original, also when that file is gone', async () => {
    const original = fs.readFileSync(file);
    fs.copyFileSync(file, `${file}.orig`);
    changed('Odd was patched before this application came.');
    await bed.scan(game);
    await chooseOriginal(game.id, NAME, createHash('sha256').update(original).digest('hex'));
    fs.rmSync(`${file}.orig`);
    const build = await builtMod('Hello', 'Odd says hello.');
    await installBuild(game.id, build, quietJob());
    expect(bed.unzipped(file, 'odd.txt')).toBe('Odd says hello.');
    await restoreGame(game.id, 'ask', quietJob());
    expect(fs.readFileSync(file)).toEqual(original);
  });
});

test('what is neither in the folder nor kept cannot be chosen', async () => {
  await expect(chooseOriginal(game.id, NAME, 'cd'.repeat(32))).rejects.toThrow('was kept');
  await expect(chooseOriginal(game.id, 'none.zip', 'cd'.repeat(32))).rejects.toThrow('is not there');
  await expect(chooseOriginal(game.id, '../else.zip', 'cd'.repeat(32))).rejects.toThrow();
});

test('a plan of an installation names what it asks about, and goes without once it is answered', async () => {
  const build = await builtMod('Hello', 'Odd says hello.');
  const sha256 = hashOf(file);
  fs.copyFileSync(file, `${file}.bak`);
  const plan = await planInstall(game.id, build);
  expect(plan.files.map(({ path: name }) => name)).toEqual([NAME]);
  expect(JSON.stringify(plan)).toContain('.bak lies beside it');
  await chooseOriginal(game.id, NAME, sha256);
  expect(JSON.stringify(await planInstall(game.id, build))).not.toContain('.bak lies beside it');
});

test.each([
  ['a line without a sum', 'base.zip is fine\n', 'Line 1 is no SHA-256'],
  ['no line at all', '# nothing\n\n', 'no'],
])('a list with %s is refused, and the one before stays', async (_what, listing, message) => {
  await noteKnown(game.id, { listing: `${'ab'.repeat(32)}  ${NAME}\n`, terms: 'Ask first.' });
  await expect(noteKnown(game.id, { listing })).rejects.toThrow(message);
  expect(await knownOf(game.id)).toMatchObject({
    terms: 'Ask first.',
    listing: `${'ab'.repeat(32)}  ${NAME}\n`,
  });
});
