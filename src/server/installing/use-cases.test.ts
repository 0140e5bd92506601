import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { buildMod, buildMods, listBuilds } from '../building/builds';
import type { GameView } from '../games/games';
import { addMod, replaceEntry } from '../mods/mods';
import { putTogether } from '../mods/mix';
import { quietJob, TestBed } from '../testing/bed';
import { installBuild, planInstall } from './install';
import { activeInstallation, checkInstalled } from './installations';
import { restoreGame } from './restore';
import { takeOut } from './take-out';

/** From changes to a game folder and back, as the worker does it, without screens. */
const bed = new TestBed();
beforeAll(() => bed.begin());
afterAll(() => bed.end());

let count = 0;
async function gameOf(): Promise<GameView> {
  return bed.game(`game ${++count}`, {
    'base.zip': { 'odd.txt': 'Odd says nothing.', 'ibis.txt': 'Ibis waits.' },
    'more.zip': { 'lamp.txt': 'The lamp is out.' },
  });
}
const modOf = async (game: GameView, title: string, texts: Record<string, string>): Promise<number> => {
  const { id } = await addMod(game.id, title);
  for (const [name, text] of Object.entries(texts))
    await replaceEntry(await bed.opened(game, name), id, bed.given(name, text));
  return id;
};
const bytesOf = (game: GameView): Record<string, Buffer> =>
  Object.fromEntries(
    ['base.zip', 'more.zip'].map((name) => [name, fs.readFileSync(path.join(game.folder, name))]),
  );
const readIn = (game: GameView, archive: string, name: string): string =>
  bed.unzipped(path.join(game.folder, archive), name);
const install = async (game: GameView, buildId: number): Promise<void> => {
  await installBuild(game.id, buildId, quietJob());
  await bed.scan(game);
};

describe('build, install, restore', () => {
  test('a mod goes in, is told of, and every byte comes back', async () => {
    const game = await gameOf();
    const before = bytesOf(game);
    const mod = await modOf(game, 'Talk', { 'odd.txt': 'Odd says hello.', 'lamp.txt': 'The lamp burns.' });
    const { buildId, holds } = await buildMod(game.id, mod, { way: 'shifted' }, quietJob());
    expect(holds).toBe(true);
    expect(bytesOf(game)).toEqual(before);
    expect((await planInstall(game.id, buildId)).files.map(({ path: name }) => name).sort()).toEqual([
      'base.zip',
      'more.zip',
    ]);
    await install(game, buildId);
    expect(readIn(game, 'base.zip', 'odd.txt')).toBe('Odd says hello.');
    expect(readIn(game, 'base.zip', 'ibis.txt')).toBe('Ibis waits.');
    expect((await checkInstalled(game.id)).map(({ state }) => state)).toEqual([
      'as installed',
      'as installed',
    ]);
    expect(await restoreGame(game.id, 'ask', quietJob())).toEqual({ files: 2, left: 0 });
    expect(bytesOf(game)).toEqual(before);
    expect(await activeInstallation(game.id)).toBeUndefined();
    await expect(restoreGame(game.id, 'ask', quietJob())).rejects.toThrow(/No mod is installed/);
  });

  test('a second mod over the first is built from the originals, and one is taken out alone', async () => {
    const game = await gameOf();
    const before = bytesOf(game);
    const talk = await modOf(game, 'Talk', { 'odd.txt': 'Odd says hello.' });
    await install(game, (await buildMod(game.id, talk, { way: 'shifted' }, quietJob())).buildId);
    const lamp = await modOf(game, 'Lamp', { 'lamp.txt': 'The lamp burns.', 'ibis.txt': 'Ibis sings.' });
    const both = await buildMods(game.id, lamp, [talk, lamp], { way: 'shifted' }, quietJob());
    await install(game, both.buildId);
    expect(readIn(game, 'base.zip', 'odd.txt')).toBe('Odd says hello.');
    expect(readIn(game, 'base.zip', 'ibis.txt')).toBe('Ibis sings.');
    await takeOut(game.id, talk, quietJob());
    expect(readIn(game, 'base.zip', 'odd.txt')).toBe('Odd says nothing.');
    expect(readIn(game, 'base.zip', 'ibis.txt')).toBe('Ibis sings.');
    await restoreGame(game.id, 'ask', quietJob());
    expect(bytesOf(game)).toEqual(before);
  });

  test('what somebody else changed meanwhile is asked about, left, or replaced', async () => {
    const game = await gameOf();
    const before = bytesOf(game);
    const mod = await modOf(game, 'Talk', { 'odd.txt': 'Odd says hello.', 'lamp.txt': 'The lamp burns.' });
    await install(game, (await buildMod(game.id, mod, { way: 'shifted' }, quietJob())).buildId);
    const foreign = path.join(game.folder, 'more.zip');
    fs.writeFileSync(foreign, 'written by an update');
    await expect(restoreGame(game.id, 'ask', quietJob())).rejects.toThrow(
      /more.zip is neither what was installed nor the original/,
    );
    expect(readIn(game, 'base.zip', 'odd.txt')).toBe('Odd says hello.');
    expect(await restoreGame(game.id, 'leave', quietJob())).toEqual({ files: 1, left: 1 });
    expect(fs.readFileSync(foreign, 'utf8')).toBe('written by an update');
    expect(fs.readFileSync(path.join(game.folder, 'base.zip'))).toEqual(before['base.zip']);
  });

  test('two mods that change one path: the later has its way, and it is said', async () => {
    const game = await gameOf();
    const one = await modOf(game, 'One', { 'odd.txt': 'one' });
    const two = await modOf(game, 'Two', { 'odd.txt': 'two' });
    const { conflicts } = await putTogether(game.id, [one, two]);
    expect(conflicts.map(({ path: name }) => name)).toEqual(['odd.txt']);
    await install(game, (await buildMods(game.id, two, [one, two], { way: 'shifted' }, quietJob())).buildId);
    expect(readIn(game, 'base.zip', 'odd.txt')).toBe('two');
  });

  test('a build is out of date once the mod goes on', async () => {
    const game = await gameOf();
    const mod = await modOf(game, 'Talk', { 'odd.txt': 'Odd says hello.' });
    await buildMod(game.id, mod, { way: 'shifted' }, quietJob());
    expect((await listBuilds(game.id, mod)).map(({ stale }) => stale)).toEqual([false]);
    await replaceEntry(await bed.opened(game, 'ibis.txt'), mod, bed.given('ibis.txt', 'Ibis sings.'));
    expect((await listBuilds(game.id, mod)).map(({ stale }) => stale)).toEqual([true]);
  });
});
