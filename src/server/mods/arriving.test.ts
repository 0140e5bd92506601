import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { deflateSync } from 'node:zlib';
import { addIdTable, listIdTables, removeIdTable } from '../entries/id-tables';
import { mark } from '../entries/marks';
import type { GameView } from '../games/games';
import { TestBed } from '../testing/bed';
import { keepBlob } from '../storage/storage';
import { addEntry, likesFor } from './add-entry';
import { travel } from './history';
import { meantBy, meantByNameOrLook, replacePath } from './incoming';
import { mendChange, shareChange } from './mend';
import { addMod, listChanges, preparedBytes, removeMod, updateMod } from './mods';
import { previewSwap, swapSet } from './swap';
import { setWorkFolder, watchWorkFolders, workNotes } from './work-folder';

/** How things come into a mod other than by a press on one entry: by their names, their looks, sets, folders. */
const bed = new TestBed();
let game: GameView;
let mod: number;
beforeAll(async () => {
  await bed.begin();
  game = await bed.game('arriving', {
    'base.zip': {
      'lines/odd.txt': 'Odd says nothing.',
      'lines/ibis.txt': 'Ibis waits.',
      'far/ibis.txt': 'Ibis of far away.',
      'coats/red_a.txt': 'red a',
      'coats/red_b.txt': 'red b',
      'coats/red_c.txt': 'red c',
      'coats/blue_a.txt': 'blue a',
      'coats/blue_b.txt': 'blue b',
      'coats/blue_x.txt': 'blue x',
    },
  });
});
afterAll(() => bed.end());
beforeEach(async () => {
  mod = (await addMod(game.id, 'Mod')).id;
});

/** What the mod has by now: the text for each path. */
const texts = async (): Promise<Record<string, string>> => {
  const found: Record<string, string> = {};
  for (const { id, path: name } of await listChanges(game.id, mod))
    found[name] = Buffer.from((await preparedBytes(game.id, mod, id)).bytes).toString();
  return found;
};

describe('a file from outside', () => {
  test.each([
    ['odd.txt', 'lines/odd.txt'],
    ['lines/odd.txt', 'lines/odd.txt'],
    ['far/ibis.txt', 'far/ibis.txt'],
  ])('%s is meant for %s', async (name, wanted) => {
    expect(await meantBy(game.id, name)).toBe(wanted);
  });

  test.each(['ibis.txt', 'nobody.txt', ''])('%s is meant for none, or for more than one', async (name) => {
    await expect(meantBy(game.id, name)).rejects.toThrow('No entry, or more than one');
  });

  test('that is no picture is not looked for by its look', async () => {
    const { blob } = bed.given('x.txt', 'a text');
    await expect(meantByNameOrLook(game.id, '', 'x.txt', blob)).rejects.toThrow('No entry');
    expect(await meantByNameOrLook(game.id, 'far/', 'ibis.txt', blob)).toEqual({
      path: 'far/ibis.txt',
      by: 'name',
    });
  });

  test('finds what one entry alone is called, by its user or by a table', async () => {
    const { blob } = bed.given('x.txt', 'a text');
    await mark(game.id, ['far/ibis.txt'], { alias: 'The far Ibis' });
    const found = await meantByNameOrLook(game.id, '', 'the FAR ibis.wav', blob);
    expect(found).toEqual({ path: 'far/ibis.txt', by: 'label' });
    await expect(meantByNameOrLook(game.id, 'lines/', 'The far Ibis.txt', blob)).rejects.toThrow('No entry');
    // Of two that are called so neither is meant.
    await mark(game.id, ['lines/ibis.txt'], { alias: 'the far ibis' });
    await expect(meantByNameOrLook(game.id, '', 'The far Ibis.txt', blob)).rejects.toThrow('No entry');
    await mark(game.id, ['lines/ibis.txt', 'far/ibis.txt'], { alias: '' });
    await addIdTable(game.id, { title: 'coats', text: 'code,name\nred_c,Crimson\n' });
    expect(await meantByNameOrLook(game.id, '', 'Crimson.txt', blob)).toEqual({
      path: 'coats/red_c.txt',
      by: 'label',
    });
    for (const { id } of await listIdTables(game.id)) await removeIdTable(game.id, id);
  });

  test('takes the place of what the game sees under a path', async () => {
    expect(await replacePath(game.id, mod, 'lines/odd.txt', bed.given('new.txt', 'Odd sings.'))).toBe('fits');
    expect(await texts()).toEqual({ 'lines/odd.txt': 'Odd sings.' });
    await expect(replacePath(game.id, mod, 'none.txt', bed.given('n.txt', ''))).rejects.toThrow(
      'is in no open archive',
    );
  });
});

describe('a set under the names of another', () => {
  test('takes over what has a counterpart, as one step', async () => {
    const plan = await previewSwap(game.id, 'coats/red_', 'coats/blue_');
    expect(plan.pairs.filter(({ source }) => source).map(({ target }) => target)).toEqual([
      'coats/red_a.txt',
      'coats/red_b.txt',
    ]);
    expect(plan.left).toEqual(['coats/blue_x.txt']);
    expect(await swapSet(game.id, mod, 'coats/red_', 'coats/blue_')).toEqual({ swapped: 2, fit: 'fits' });
    expect(await texts()).toEqual({ 'coats/red_a.txt': 'blue a', 'coats/red_b.txt': 'blue b' });
    await travel(mod, 'undo');
    expect(await texts()).toEqual({});
    await travel(mod, 'redo');
    expect(Object.keys(await texts())).toHaveLength(2);
  });

  test.each([
    ['coats/red_', 'coats/red_', 'Both sets are the same'],
    ['coats/red_', 'coats/green_', 'Nothing that begins with coats/green_'],
    ['nothing_', 'coats/red_', 'Nothing that begins with'],
  ])('%s for %s is refused', async (target, source, message) => {
    await expect(swapSet(game.id, mod, target, source)).rejects.toThrow(message);
    expect(await texts()).toEqual({});
  });
});

describe('an entry that is added', () => {
  const archiveId = async (): Promise<number> => (await bed.entry(game, 'lines/odd.txt')).archiveId;

  test('is stored like its neighbours, given anew, and goes by undoing', async () => {
    const at = await archiveId();
    const [like] = await likesFor(game.id, at, 'lines/heron.txt');
    expect(like!.path).toMatch(/^lines\//);
    const slot = { archiveId: at, path: 'lines/heron.txt' };
    expect(await addEntry(game.id, mod, slot, bed.given('heron.txt', 'Heron waits.'))).toBe('fits');
    expect(await addEntry(game.id, mod, slot, bed.given('heron.txt', 'Heron sings.'))).toBe('fits');
    const [change, ...rest] = await listChanges(game.id, mod);
    expect(rest).toEqual([]);
    expect(change).toMatchObject({ action: 'add', path: 'lines/heron.txt', index: -1 });
    expect(change!.findings[0]).toMatchObject({ code: 'change.added', what: '12 bytes, taken as given' });
    expect(await texts()).toEqual({ 'lines/heron.txt': 'Heron sings.' });
    await travel(mod, 'undo');
    expect(await texts()).toEqual({ 'lines/heron.txt': 'Heron waits.' });
    await travel(mod, 'undo');
    expect(await texts()).toEqual({});
  });

  test.each(['/lines/a.txt', '../a.txt', 'lines//a.txt', ''])('"%s" is no path for one', async (name) => {
    const slot = { archiveId: await archiveId(), path: name };
    await expect(addEntry(game.id, mod, slot, bed.given('a.txt', 'a'))).rejects.toThrow('is no path');
  });

  test('under a name that is taken is refused', async () => {
    const slot = { archiveId: await archiveId(), path: 'lines/odd.txt' };
    await expect(addEntry(game.id, mod, slot, bed.given('odd.txt', 'a'))).rejects.toThrow(
      'cannot be added to base.zip',
    );
    expect(await texts()).toEqual({});
  });
});

describe('the halves of a sheet', () => {
  /** A PNG of one grey, written by hand: a head, one row of filter byte and texels each, an end. */
  function png(side: number, grey: number): Uint8Array {
    const chunk = (type: string, data: Buffer): Buffer => {
      const body = Buffer.concat([Buffer.from(type), data]);
      const out = Buffer.alloc(body.length + 8);
      out.writeUInt32BE(data.length);
      body.copy(out, 4);
      out.writeUInt32BE(crc(body), body.length + 4);
      return out;
    };
    const crc = (bytes: Buffer): number => {
      let sum = 0xffffffff;
      for (const byte of bytes) {
        sum ^= byte;
        for (let bit = 0; bit < 8; bit++) sum = (sum >>> 1) ^ (sum & 1 ? 0xedb88320 : 0);
      }
      return (sum ^ 0xffffffff) >>> 0;
    };
    const head = Buffer.alloc(13);
    head.writeUInt32BE(side);
    head.writeUInt32BE(side, 4);
    head[8] = 8;
    const rows = Buffer.alloc(side * (side + 1), grey);
    for (let y = 0; y < side; y++) rows[y * (side + 1)] = 0;
    const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
    return Buffer.concat([
      signature,
      chunk('IHDR', head),
      chunk('IDAT', deflateSync(rows)),
      chunk('IEND', Buffer.alloc(0)),
    ]);
  }
  const given = (name: string, bytes: Uint8Array) => ({ name, blob: keepBlob(bytes), size: bytes.length });

  test('one that is forgotten is pointed out, counts under a strict policy, and is given the same picture', async () => {
    bed.zipBytes(path.join(game.folder, 'sheets.zip'), {
      'boards_near.png': png(16, 10),
      'boards_far.png': png(8, 10),
    });
    await bed.scan(game);
    await replacePath(game.id, mod, 'boards_near.png', given('new.png', png(16, 200)));
    const [change] = await listChanges(game.id, mod);
    expect(change!.findings.map(({ code }) => code)).toContain('change.left-half');
    expect(change!.fit).toBe('look');
    await updateMod(game.id, mod, { policy: 'refuse' });
    expect((await listChanges(game.id, mod))[0]!.fit).toBe('does not fit');
    await updateMod(game.id, mod, { policy: 'allow' });
    expect((await listChanges(game.id, mod))[0]!.fit).toBe('let pass');
    const half = change!.left.find(({ isHalf }) => isHalf)!;
    expect(half.path).toBe('boards_far.png');
    await shareChange(mod, change!.id, await bed.opened(game, half.path));
    const both = await listChanges(game.id, mod);
    expect(both.map(({ path: name }) => name)).toEqual(['boards_far.png', 'boards_near.png']);
    for (const one of both) expect(one.findings.map(({ code }) => code)).not.toContain('change.left-half');
    expect(both[0]!.findings[0]).toMatchObject({
      code: 'picture.resized',
      what: 'resized from 16 x 16 to 8 x 8',
    });
  });

  test('a mend of a change that is gone is refused', async () => {
    await expect(mendChange(game.id, mod, 1_000_000, 'resize')).rejects.toThrow('is not there');
  });
});

describe('a work folder', () => {
  const folder = path.join(bed.folder, 'work');
  /** Waits for what the watch does by itself; where it never does, the test runs into its time. */
  async function until<T>(look: () => Promise<T | undefined>): Promise<T> {
    for (;;) {
      const found = await look();
      if (found !== undefined) return found;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  }
  afterAll(() => {
    clearInterval(globalThis.zeroLatchWorkFolders?.timer);
    globalThis.zeroLatchWorkFolders = undefined;
  });

  test('what is saved there becomes a change, saved again another one, and what is meant for none is told', async () => {
    await setWorkFolder(game.id, mod, folder);
    watchWorkFolders();
    fs.mkdirSync(path.join(folder, 'lines'), { recursive: true });
    fs.writeFileSync(path.join(folder, 'lines/odd.txt'), 'Odd was saved.');
    fs.writeFileSync(path.join(folder, 'nobody.txt'), 'meant for none');
    fs.writeFileSync(path.join(folder, '.hidden.txt'), 'passed over');
    await until(async () => ((await texts())['lines/odd.txt'] === 'Odd was saved.' ? true : undefined));
    const notes = await until(async () => {
      const told = await workNotes(game.id, mod);
      return told.length > 0 ? told : undefined;
    });
    expect(notes).toEqual([{ file: 'nobody.txt', problem: expect.stringContaining('No entry') }]);
    fs.writeFileSync(path.join(folder, 'lines/odd.txt'), 'Odd was saved again.');
    await until(async () => ((await texts())['lines/odd.txt'] === 'Odd was saved again.' ? true : undefined));
    await setWorkFolder(game.id, mod, null);
    await removeMod(game.id, mod);
  }, 180_000);

  test('the folder of the game is none', async () => {
    await expect(setWorkFolder(game.id, mod, game.folder)).rejects.toThrow('Only the installer writes there');
  });
});
