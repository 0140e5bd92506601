import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { BUILD_WAYS } from '@/core/mod';
import type { GameView } from '../games/games';
import { addMod, replaceEntry } from '../mods/mods';
import { removeEntry } from '../mods/add-entry';
import { quietJob, TestBed } from '../testing/bed';
import { writeBuild, zipOfBuild } from './build-output';
import { buildMod, listBuilds, toBuild } from './builds';
import { weighWays } from './weigh-ways';

/** What comes of a build beside an installation: folders, downloads, and what each way would cost. */
const bed = new TestBed();
let game: GameView;
let mod: number;
let count = 0;
beforeAll(async () => {
  await bed.begin();
  game = await bed.game('outputs', {
    'base.zip': { 'odd.txt': 'Odd says nothing. '.repeat(400), 'ibis.txt': 'Ibis waits.' },
    'deep/more.zip': { 'lamp.txt': 'The lamp is out.' },
  });
});
afterAll(() => bed.end());
beforeEach(async () => {
  mod = (await addMod(game.id, 'Talk')).id;
  await give('odd.txt', 'Odd says hello.');
  await give('lamp.txt', 'The lamp burns.');
});
const give = async (name: string, text: string): Promise<unknown> =>
  replaceEntry(await bed.opened(game, name), mod, bed.given(name, text));
const built = async (): Promise<number> =>
  (await buildMod(game.id, mod, { way: 'shifted' }, quietJob())).buildId;
const target = (): string => path.join(bed.folder, `out ${++count}`);

describe('a build goes into a folder', () => {
  test('with its archives under their paths, which the ordinary program reads', async () => {
    const folder = target();
    const done = await writeBuild(game.id, await built(), folder, quietJob());
    expect(done.detail).toMatch(/files written to/);
    expect(bed.unzipped(path.join(folder, 'base.zip'), 'odd.txt')).toBe('Odd says hello.');
    expect(bed.unzipped(path.join(folder, 'base.zip'), 'ibis.txt')).toBe('Ibis waits.');
    expect(bed.unzipped(path.join(folder, 'deep/more.zip'), 'lamp.txt')).toBe('The lamp burns.');
  });

  test('again, where it stands already; what is another file is left as it is', async () => {
    const folder = target();
    const build = await built();
    await writeBuild(game.id, build, folder, quietJob());
    // Beside the archives there are words about them, which are anybody's to change.
    const words = fs.readdirSync(folder).filter((name) => name !== 'base.zip' && name !== 'deep');
    for (const name of words) fs.rmSync(path.join(folder, name));
    await writeBuild(game.id, build, folder, quietJob());
    for (const name of words) fs.rmSync(path.join(folder, name), { force: true });
    fs.writeFileSync(path.join(folder, 'base.zip'), 'of somebody else');
    await expect(writeBuild(game.id, build, folder, quietJob())).rejects.toThrow('base.zip is in');
    expect(fs.readFileSync(path.join(folder, 'base.zip'), 'utf8')).toBe('of somebody else');
  });

  test('a link of its name is never written through, and the game itself is no such folder', async () => {
    const folder = target();
    const build = await built();
    fs.mkdirSync(folder);
    const victim = path.join(bed.folder, `victim ${count}`);
    fs.writeFileSync(victim, 'precious');
    fs.symlinkSync(victim, path.join(folder, 'base.zip'));
    await expect(writeBuild(game.id, build, folder, quietJob())).rejects.toThrow('base.zip is in');
    expect(fs.readFileSync(victim, 'utf8')).toBe('precious');
    await expect(writeBuild(game.id, build, game.folder, quietJob())).rejects.toThrow('Only the installer');
  });
});

test('a build is downloaded as a ZIP of its archives', async () => {
  const { stream, title } = await zipOfBuild(game.id, await built());
  expect(title).toBe('Talk');
  const file = `${target()}.zip`;
  const parts: Buffer[] = [];
  for await (const part of stream) parts.push(part as Buffer);
  fs.writeFileSync(file, Buffer.concat(parts));
  const out = target();
  execFileSync('unzip', ['-q', file, '-d', out]);
  expect(bed.unzipped(path.join(out, 'base.zip'), 'odd.txt')).toBe('Odd says hello.');
});

test('each way is weighed as it would be, and nothing is written', async () => {
  const before = fs.readFileSync(path.join(game.folder, 'base.zip'));
  const { before: bytes, ways, stamp } = await weighWays(game.id, mod, quietJob());
  const sizes = ['base.zip', 'deep/more.zip'].map((name) => fs.statSync(path.join(game.folder, name)).size);
  expect(bytes).toBe(sizes[0]! + sizes[1]!);
  expect(ways.map(({ way }) => way)).toEqual([...BUILD_WAYS]);
  const shifted = ways.find(({ way }) => way === 'shifted')!;
  expect(shifted.problem).toBeNull();
  const build = await built();
  const folder = target();
  await writeBuild(game.id, build, folder, quietJob());
  const made = ['base.zip', 'deep/more.zip'].map((name) => fs.statSync(path.join(folder, name)).size);
  // What was said is what is written.
  expect(shifted.bytes).toBe(made[0]! + made[1]!);
  for (const { way, bytes: size, problem } of ways)
    expect([way, size === null]).toEqual([way, problem !== null]);
  expect(fs.readFileSync(path.join(game.folder, 'base.zip'))).toEqual(before);
  expect((await weighWays(game.id, mod, quietJob())).stamp).toBe(stamp);
  await give('ibis.txt', 'Ibis sings.');
  expect((await weighWays(game.id, mod, quietJob())).stamp).not.toBe(stamp);
});

test('what is to be built is told before, and builds are listed the newest first', async () => {
  expect(JSON.stringify(await toBuild(game.id, mod))).toContain('base.zip');
  const [first, second] = [await built(), await built()];
  const builds = await listBuilds(game.id, mod);
  expect(builds[0]!.id).toBe(second);
  expect(builds.every(({ holds }) => holds)).toBe(true);
  expect(first).not.toBe(second);
});

test('an entry that is taken out is not in the archive that is written', async () => {
  await removeEntry(await bed.opened(game, 'ibis.txt'), mod);
  const folder = target();
  await writeBuild(game.id, await built(), folder, quietJob());
  const names = execFileSync('unzip', ['-Z1', path.join(folder, 'base.zip')], { encoding: 'utf8' });
  expect(names.trim().split('\n')).toEqual(['odd.txt']);
});
