import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import path from 'node:path';
import { toPng } from '@/media/picture/node/pictures';
import { buildMod } from '../building/builds';
import type { GameView } from '../games/games';
import { installBuild } from '../installing/install';
import { restoreGame } from '../installing/restore';
import { keepBlob } from '../storage/storage';
import { quietJob, TestBed } from '../testing/bed';
import { addEntry, likesFor, removeEntry } from './add-entry';
import { travel } from './history';
import { mendChange } from './mend';
import { addMod, listChanges, listMods, removeMod, replaceEntry } from './mods';

const bed = new TestBed();
let game: GameView;
beforeAll(async () => {
  await bed.begin();
  const folder = 'mods';
  game = await bed.game(folder, {
    'data.zip': { 'odd.txt': 'Odd says nothing.', 'ibis.txt': 'Ibis waits.' },
  });
});
afterAll(() => bed.end());

const pixels = (width: number, height: number, value: number) => ({
  ...{ width, height },
  data: new Uint8Array(4 * width * height).fill(value),
});
const png = async (width: number, height: number, value: number): Promise<Uint8Array> =>
  new Uint8Array(await toPng(pixels(width, height, value)));
const read = (name: string): string => bed.unzipped(path.join(game.folder, 'data.zip'), name);

describe('what a mod does', () => {
  test('an entry is added like another one, one is taken out, and all comes back', async () => {
    const { id } = await addMod(game.id, 'More');
    const { archiveId } = await bed.entry(game, 'odd.txt');
    expect((await likesFor(game.id, archiveId, 'heron.txt')).length).toBeGreaterThan(0);
    await addEntry(
      game.id,
      id,
      { archiveId, path: 'heron.txt', like: undefined },
      bed.given('heron.txt', 'The heron stands.'),
    );
    await removeEntry(await bed.opened(game, 'ibis.txt'), id);
    expect((await listChanges(game.id, id)).map(({ action, path: at }) => [action, at]).sort()).toEqual([
      ['add', 'heron.txt'],
      ['remove', 'ibis.txt'],
    ]);
    const { buildId, holds } = await buildMod(game.id, id, { way: 'shifted' }, quietJob());
    expect(holds).toBe(true);
    await installBuild(game.id, buildId, quietJob());
    await bed.scan(game);
    expect(read('heron.txt')).toBe('The heron stands.');
    await expect(bed.entry(game, 'ibis.txt')).rejects.toThrow(/not among/);
    // While it is installed, what is changed is kept by the numbers of the original.
    await replaceEntry(await bed.opened(game, 'odd.txt'), id, bed.given('odd.txt', 'Odd sings.'));
    await restoreGame(game.id, 'ask', quietJob());
    await bed.scan(game);
    expect(read('ibis.txt')).toBe('Ibis waits.');
    const again = await buildMod(game.id, id, { way: 'shifted' }, quietJob());
    await installBuild(game.id, again.buildId, quietJob());
    expect(read('odd.txt')).toBe('Odd sings.');
    await restoreGame(game.id, 'ask', quietJob());
    await bed.scan(game);
  });

  test('what does not fit is kept with its findings, mended by a press, and not built before', async () => {
    const slot = await png(8, 8, 90);
    const folder = path.join(game.folder, 'pictures.zip');
    bed.zipBytes(folder, { 'lamp.png': slot });
    await bed.scan(game);
    const { id } = await addMod(game.id, 'Lamp');
    const bytes = await png(16, 12, 200);
    const given = { name: 'lamp.png', blob: keepBlob(bytes), size: bytes.length };
    expect(await replaceEntry(await bed.opened(game, 'lamp.png'), id, given)).toBe('look');
    const [change] = await listChanges(game.id, id);
    expect(change!.findings[0]).toMatchObject({
      what: '16 x 12 given, the slot is 8 x 8',
      code: 'picture.own-size',
      mends: [{ name: 'resize', label: 'Resize to 8 x 8' }],
    });
    expect(await mendChange(game.id, id, change!.id, 'resize')).toBe('look');
    expect((await listChanges(game.id, id))[0]!.findings[0]!.what).toContain('resized from 16 x 12 to 8 x 8');
    await travel(id, 'undo');
    expect((await listChanges(game.id, id))[0]!.findings[0]!.what).toContain('16 x 12 given');
    const text = bed.given('lamp.png', 'no picture at all');
    await expect(replaceEntry(await bed.opened(game, 'lamp.png'), id, text)).rejects.toThrow(
      /is no PNG file/,
    );
    expect(await listChanges(game.id, id)).toHaveLength(1);
  });

  test('a mod that is removed takes its changes along', async () => {
    const { id } = await addMod(game.id, 'Gone');
    await replaceEntry(await bed.opened(game, 'odd.txt'), id, bed.given('odd.txt', 'x'));
    await removeMod(game.id, id);
    expect((await listMods(game.id)).some((mod) => mod.id === id)).toBe(false);
    await expect(listChanges(game.id, id)).rejects.toThrow(/mod is not there/i);
  });
});
