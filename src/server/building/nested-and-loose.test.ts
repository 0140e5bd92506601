import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { collect } from '@/core/bytes';
import { addGame, type GameView } from '../games/games';
import { installBuild } from '../installing/install';
import { restoreGame } from '../installing/restore';
import { removeEntry } from '../mods/add-entry';
import { compareChange, oldBytes } from '../looking/compare';
import { addMod, listChanges, preparedBytes, replaceEntry } from '../mods/mods';
import { swapSet } from '../mods/swap';
import { originalEntry } from '../mods/original-entry';
import { withOpened } from '../opening/held';
import { quietJob, TestBed } from '../testing/bed';
import { buildMod } from './builds';
import { weighWays } from './weigh-ways';

/** Changes of archives within archives, and of files that are in no archive. */
const bed = new TestBed();
let game: GameView;
beforeAll(async () => {
  await bed.begin();
  const folder = path.join(bed.folder, 'nests');
  bed.zip(path.join(bed.folder, 'eggs.zip'), { 'egg.txt': 'An egg. '.repeat(60), 'shell.txt': 'A shell.' });
  const eggs = fs.readFileSync(path.join(bed.folder, 'eggs.zip'));
  bed.zipBytes(path.join(bed.folder, 'nest.zip'), { 'eggs.zip': eggs, 'moss.txt': 'Moss.' });
  const nest = fs.readFileSync(path.join(bed.folder, 'nest.zip'));
  bed.zipBytes(path.join(folder, 'tree.zip'), { 'nest.zip': nest, 'leaf.txt': 'A leaf.' });
  fs.mkdirSync(path.join(folder, 'movies'));
  fs.writeFileSync(path.join(folder, 'movies', 'intro.txt'), 'The old intro.');
  fs.writeFileSync(path.join(folder, 'notes.txt'), 'Old notes.');
  game = await addGame({ title: 'Nests', folder, notes: '' });
  await bed.scan(game);
});
afterAll(() => bed.end());

const give = async (mod: number, name: string, text: string): Promise<unknown> =>
  replaceEntry(await bed.opened(game, name), mod, bed.given(path.basename(name), text));
const inFolder = (name: string): string => path.join(game.folder, name);

/** What the ordinary program reads out of the innermost of three archives. */
function innermost(file: string, name: string): string {
  const inner = path.join(bed.folder, 'taken');
  fs.rmSync(inner, { recursive: true, force: true });
  fs.mkdirSync(inner);
  let at = file;
  for (const next of ['nest.zip', 'eggs.zip']) {
    const to = path.join(inner, next);
    fs.writeFileSync(to, bed.unzippedBytes(at, next));
    at = to;
  }
  return bed.unzipped(at, name);
}

/** What an entry says, as it was before any installation. */
const before = async (name: string): Promise<string> =>
  withOpened(async () => {
    const { archive, entry } = await originalEntry(await bed.opened(game, name));
    return Buffer.from(collect(archive.plain(entry))).toString();
  });

const installed = async (mod: number): Promise<void> => {
  const { buildId, holds } = await buildMod(game.id, mod, { way: 'shifted' }, quietJob());
  expect(holds).toBe(true);
  await installBuild(game.id, buildId, quietJob());
  await bed.scan(game);
};

describe('archives within archives', () => {
  test('changes at every depth at once, twice, and all goes back', async () => {
    const mod = (await addMod(game.id, 'Deep')).id;
    const whole = fs.readFileSync(inFolder('tree.zip'));
    await give(mod, 'nest.zip/eggs.zip/egg.txt', 'Another egg.');
    await give(mod, 'nest.zip/moss.txt', 'More moss. '.repeat(40));
    await give(mod, 'leaf.txt', 'No leaf.');
    await installed(mod);
    expect(innermost(inFolder('tree.zip'), 'egg.txt')).toBe('Another egg.');
    expect(innermost(inFolder('tree.zip'), 'shell.txt')).toBe('A shell.');
    expect(bed.unzipped(inFolder('tree.zip'), 'leaf.txt')).toBe('No leaf.');
    expect(await before('nest.zip/eggs.zip/egg.txt')).toBe('An egg. '.repeat(60));
    expect(await before('nest.zip/moss.txt')).toBe('Moss.');
    expect(await before('leaf.txt')).toBe('A leaf.');
    const deep = (await listChanges(game.id, mod)).find(({ path: own }) => own.endsWith('egg.txt'))!;
    expect(await withOpened(() => compareChange(game.id, mod, deep.id))).toMatchObject({
      isSame: false,
      sizes: [480, 12],
    });
    // Over what is installed: it is built from the original again.
    await give(mod, 'nest.zip/eggs.zip/shell.txt', 'Cracked.');
    await installed(mod);
    expect(innermost(inFolder('tree.zip'), 'shell.txt')).toBe('Cracked.');
    expect(innermost(inFolder('tree.zip'), 'egg.txt')).toBe('Another egg.');
    await restoreGame(game.id, 'ask', quietJob());
    await bed.scan(game);
    expect(fs.readFileSync(inFolder('tree.zip')).equals(whole)).toBe(true);
    expect(
      (await weighWays(game.id, mod, quietJob())).ways.find(({ way }) => way === 'shifted')!.problem,
    ).toBeNull();
  });

  test('one that is replaced as a whole and changed inside, too, is refused in words', async () => {
    const mod = (await addMod(game.id, 'Both')).id;
    await give(mod, 'nest.zip/moss.txt', 'x');
    const nest = await bed.opened(game, 'nest.zip');
    await replaceEntry(nest, mod, bed.given('nest.zip', 'no archive at all'));
    const [whole] = (await listChanges(game.id, mod)).filter(({ path: own }) => own === 'nest.zip');
    expect(whole!.findings[0]).toMatchObject({
      state: 'does not fit',
      what: expect.stringContaining('does not open as') as unknown,
    });
    await expect(removeEntry(await bed.opened(game, 'nest.zip/moss.txt'), mod)).rejects.toThrow(
      'within another one',
    );
  });
});

describe('files of the folder', () => {
  test('are replaced, installed over kept originals, and come back; other files that appear do not move them', async () => {
    const mod = (await addMod(game.id, 'Loose')).id;
    await give(mod, 'movies/intro.txt', 'A new intro.');
    await give(mod, 'notes.txt', 'New notes.');
    // Numbers of files follow their names; a new one comes before both.
    fs.writeFileSync(inFolder('about.txt'), 'About.');
    await bed.scan(game);
    await give(mod, 'movies/intro.txt', 'A newer intro.');
    const changes = await listChanges(game.id, mod);
    expect(changes.map(({ path: own }) => own)).toEqual(['movies/intro.txt', 'notes.txt']);
    for (const { path: own, archiveId, index } of changes)
      expect(await bed.entry(game, own)).toEqual({ archiveId, index });
    await installed(mod);
    expect(fs.readFileSync(inFolder('movies/intro.txt'), 'utf8')).toBe('A newer intro.');
    expect(fs.readFileSync(inFolder('notes.txt'), 'utf8')).toBe('New notes.');
    expect(await before('movies/intro.txt')).toBe('The old intro.');
    expect(await before('about.txt')).toBe('About.');
    const intro = (await listChanges(game.id, mod))[0]!;
    const old = await withOpened(() => oldBytes(game.id, mod, intro.id, 4, 3));
    expect(Buffer.from(old).toString()).toBe('old');
    await give(mod, 'movies/intro.txt', 'The last intro.');
    await installed(mod);
    expect(fs.readFileSync(inFolder('movies/intro.txt'), 'utf8')).toBe('The last intro.');
    await restoreGame(game.id, 'ask', quietJob());
    await bed.scan(game);
    expect(fs.readFileSync(inFolder('movies/intro.txt'), 'utf8')).toBe('The old intro.');
    expect(fs.readFileSync(inFolder('notes.txt'), 'utf8')).toBe('Old notes.');
    expect(fs.readFileSync(inFolder('about.txt'), 'utf8')).toBe('About.');
  });

  test('are not taken out, and one that is gone is missed', async () => {
    const mod = (await addMod(game.id, 'Gone')).id;
    await expect(removeEntry(await bed.opened(game, 'notes.txt'), mod)).rejects.toThrow('not taken out');
    await give(mod, 'about.txt', 'Nothing.');
    fs.rmSync(inFolder('about.txt'));
    await expect(buildMod(game.id, mod, { way: 'shifted' }, quietJob())).rejects.toThrow(
      'about.txt is no longer in the game folder',
    );
  });
});

test('while something is installed, what is changed next is changed from the originals', async () => {
  const game2 = await bed.game('Twins', {
    'twins.zip': { 'a_one.txt': 'First of all.', 'b_one.txt': 'Second.' },
  });
  const mod = (await addMod(game2.id, 'Swap')).id;
  await swapSet(game2.id, mod, 'a_', 'b_');
  const { buildId } = await buildMod(game2.id, mod, { way: 'shifted' }, quietJob());
  await installBuild(game2.id, buildId, quietJob());
  await bed.scan(game2);
  // In the folder both say the same now; the original of the second one is still taken for the first.
  const other = (await addMod(game2.id, 'Other way')).id;
  await swapSet(game2.id, other, 'b_', 'a_');
  const [change] = await listChanges(game2.id, other);
  expect(change).toMatchObject({ path: 'b_one.txt', givenSize: 13, originalSize: 7 });
  expect(Buffer.from((await preparedBytes(game2.id, other, change!.id)).bytes).toString()).toBe(
    'First of all.',
  );
  await replaceEntry(await bed.opened(game2, 'a_one.txt'), other, bed.given('a_one.txt', 'x'));
  expect((await listChanges(game2.id, other))[0]).toMatchObject({ path: 'a_one.txt', originalSize: 13 });
});
