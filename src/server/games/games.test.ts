import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { KeyRow } from '@/db';
import { addMod } from '../mods/mods';
import { storageFolder, storageRoot } from '../storage/storage';
import { TestBed } from '../testing/bed';
import { addGame, changeGame, findGame, listGames, presentGame, removeGame } from './games';

/** Games on the shelf: which folders may be one, what moves with a folder, and what is left when one goes. */
const bed = new TestBed();
let root: string;
let count = 0;
beforeAll(() => bed.begin());
afterAll(() => bed.end());
beforeEach(() => {
  root = path.join(bed.folder, `games ${++count}`);
  fs.mkdirSync(root);
});

/** A folder with one file in it. */
const folderOf = (name: string): string => {
  const folder = path.join(root, name);
  fs.mkdirSync(folder, { recursive: true });
  fs.writeFileSync(path.join(folder, 'readme.txt'), name);
  return folder;
};
const add = (folder: string) => addGame({ title: path.basename(folder), folder });

describe('a folder', () => {
  test('is registered under its real path, and found again', async () => {
    const real = folderOf('reeds');
    const link = path.join(root, 'link');
    fs.symlinkSync(real, link);
    const game = await add(link);
    expect(game).toMatchObject({ title: 'link', folder: fs.realpathSync(real), present: true });
    expect((await listGames()).map(({ id }) => id)).toContain(game.id);
    expect(await findGame(game.id)).toMatchObject({ folder: game.folder });
  });

  test.each([
    ['a relative path', 'reeds', 'Give the whole path'],
    ['what is not there', '/nowhere/at/all', 'is not a folder'],
    ['a file', '', 'is not a folder'],
  ])('%s is none', async (_what, folder, message) => {
    const file = path.join(folderOf('file'), 'readme.txt');
    await expect(add(folder || file)).rejects.toThrow(message);
  });

  test('the application keeps its own things in is none', async () => {
    await expect(add(storageRoot())).rejects.toThrow();
  });

  test.each([
    ['the same', (outer: string) => outer],
    ['one within', (outer: string) => path.join(outer, 'inner')],
    ['one around', (outer: string) => path.dirname(outer)],
  ])('%s as another game has is refused', async (_what, other) => {
    const outer = folderOf('outer/game');
    folderOf('outer/game/inner');
    await add(outer);
    await expect(add(other(outer))).rejects.toThrow('lie in each other');
  });

  test('beside another, whose name it begins with, is one', async () => {
    await add(folderOf('reed'));
    await expect(add(folderOf('reeds'))).resolves.toMatchObject({ title: 'reeds' });
  });
});

describe('a game', () => {
  test('gets another title, notes and folder; what is left out stays', async () => {
    const game = await add(folderOf('one'));
    await changeGame(game.id, { title: 'Other' });
    await changeGame(game.id, { notes: 'two discs' });
    const moved = folderOf('two');
    await changeGame(game.id, { folder: moved });
    expect(await findGame(game.id)).toMatchObject({ title: 'Other', notes: 'two discs', folder: moved });
    // Its own folder is no other game's.
    await expect(changeGame(game.id, { folder: moved })).resolves.toMatchObject({ folder: moved });
    await expect(changeGame(1_000_000, { title: 'x' })).rejects.toThrow('is not there');
  });

  test('whose folder is gone says so, and is there again with it', async () => {
    const folder = folderOf('away');
    const { id } = await add(folder);
    fs.renameSync(folder, `${folder}-moved`);
    expect(await findGame(id)).toMatchObject({ present: false });
    await expect(presentGame(id)).rejects.toThrow(/is no longer there.*Keys, mods and originals are kept/);
    fs.renameSync(`${folder}-moved`, folder);
    expect(await presentGame(id)).toMatchObject({ present: true });
  });

  test('takes over the folder of another one with its keys, but none that has mods', async () => {
    const [mine, theirs] = [await add(folderOf('mine')), await add(folderOf('theirs'))];
    await KeyRow.create({ gameId: theirs.id, label: 'found', bytes: Buffer.alloc(32, 3) } as never);
    await expect(changeGame(mine.id, { folder: theirs.folder })).rejects.toThrow('lie in each other');
    await changeGame(mine.id, { folder: theirs.folder, takeOver: true });
    expect(await KeyRow.count({ where: { gameId: mine.id } })).toBe(1);
    await expect(findGame(theirs.id)).rejects.toThrow('is not there');
    const third = await add(folderOf('third'));
    await addMod(third.id, 'A mod');
    await expect(changeGame(mine.id, { folder: third.folder, takeOver: true })).rejects.toThrow(
      'has mods of its own',
    );
    expect(await findGame(third.id)).toMatchObject({ folder: third.folder });
  });

  test('goes with what was made from its archives; its folder is not touched', async () => {
    const folder = folderOf('gone');
    const { id } = await add(folder);
    const made = ['catalogues', 'thumbnails', 'measured', 'readings'].map((kind) =>
      storageFolder(kind, String(id)),
    );
    for (const one of made) fs.writeFileSync(path.join(one, 'made'), 'x');
    await expect(removeGame(id, true)).rejects.toThrow('Restore it first');
    for (const one of made) expect(fs.existsSync(one)).toBe(true);
    await removeGame(id, false);
    for (const one of made) expect(fs.existsSync(one)).toBe(false);
    expect(fs.readFileSync(path.join(folder, 'readme.txt'), 'utf8')).toBe('gone');
    await expect(findGame(id)).rejects.toThrow('is not there');
  });
});
