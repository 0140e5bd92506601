import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { writeHold, type HoldEntry } from '../../../demo/world/hold-writer';
import { programFile } from '../../../demo/world/lanternfen/program';
import { collect } from '@/core/bytes';
import { ArchiveRow } from '@/db';
import { startKeySearch } from '@/jobs/key-search-thread';
import { findEntries, type EntryItem } from '../entries/entries';
import { learnNames, tryPattern } from '../entries/names';
import { addGame, type GameView } from '../games/games';
import { quietJob, TestBed } from '../testing/bed';
import { findKeysFor, listPrograms } from './key-finder';
import {
  addKeys,
  addNameList,
  keyInHex,
  listKeys,
  listNameLists,
  nameListText,
  removeKey,
  removeNameList,
  shareNameList,
} from './keyring';
import { openedEntry } from './opened';

/** A locked archive without names, from the first scan to an entry under its own name, with another game than the demo's. */
const bed = new TestBed();
const KEY = createHash('sha256').update('another game altogether').digest();
const BODIES: Record<string, string> = {
  'text/en/odd.txt': 'Odd speaks of text/en/ibis.txt and of nothing else.',
  'text/en/ibis.txt': 'Ibis answers, and that is all there is to it.',
  'boats/boat_07.txt': 'the seventh boat',
  'boats/boat_11.txt': 'the eleventh boat',
  'secret/nobody_guesses_this.txt': 'hidden',
};
let game: GameView;
const archive = async (): Promise<ArchiveRow> =>
  (await ArchiveRow.findOne({ where: { gameId: game.id, path: 'one.hold' } }))!;
const listed = async (search = ''): Promise<EntryItem[]> => [
  ...(
    await findEntries({
      ...{ gameId: game.id, folder: '', search, kind: undefined, archiveId: (await archive()).id },
      ...{ sort: 'path', isDescending: false, offset: 0, limit: 100 },
    })
  ).rows,
];
const named = async (): Promise<string[]> => (await listed('is:named')).map(({ path: name }) => name).sort();

beforeAll(async () => {
  await bed.begin();
  const folder = path.join(bed.folder, 'locked');
  fs.mkdirSync(folder);
  const entries = Object.entries(BODIES).map(([name, body]): HoldEntry => ({
    path: name,
    data: () => Buffer.from(body),
  }));
  writeHold(path.join(folder, 'one.hold'), entries, {
    key: KEY,
    roll: false,
    rank: 1,
    salt: Buffer.alloc(16, 5),
  });
  fs.writeFileSync(path.join(folder, 'game.bin'), programFile('locked', 1 << 20, [KEY]));
  fs.writeFileSync(path.join(folder, 'game-launcher.bin'), programFile('launcher', 1 << 15));
  game = await addGame({ title: 'Locked', folder });
  await bed.scan(game);
});
afterAll(() => bed.end());

test('it is known but locked; a key that does not fit opens nothing and is kept all the same', async () => {
  expect(await archive()).toMatchObject({ state: 'locked' });
  await expect(addKeys(game.id, 'no key in here', '')).rejects.toThrow('There is no key in this text');
  expect(await addKeys(game.id, `${'ab'.repeat(32)}\n`, 'wrong')).toEqual({ added: 1, known: 0 });
  expect(await addKeys(game.id, 'AB'.repeat(32), 'again')).toEqual({ added: 0, known: 1 });
  await bed.scan(game);
  expect(await archive()).toMatchObject({ state: 'locked' });
  const [wrong] = await listKeys(game.id);
  expect(wrong).toMatchObject({ label: 'wrong', opens: [] });
  expect(wrong!.masked).not.toContain('ab'.repeat(8));
  await removeKey(game.id, wrong!.id);
});

test('the key is found in the program, and not in the launcher beside it', async () => {
  const programs = await listPrograms(game.id);
  expect(programs.map(({ path: name, doubt }) => [name, doubt !== ''])).toEqual([
    ['game.bin', false],
    ['game-launcher.bin', true],
  ]);
  const { id: archiveId } = await archive();
  const search = (program: string) =>
    findKeysFor({ gameId: game.id, archiveId, program, all: false }, quietJob(), startKeySearch);
  expect((await search('game-launcher.bin')).found).toEqual([]);
  const done = await search('game.bin');
  expect(done.found).toHaveLength(1);
  expect(done.found[0]).toMatchObject({ isNew: true, offset: Math.floor((1 << 20) * 0.61) | 7 });
  expect((await search('game.bin')).found[0]).toMatchObject({ isNew: false });
  await expect(search('gone.bin')).rejects.toThrow('is no longer in the game folder');
  const [key] = await listKeys(game.id);
  expect(await keyInHex(game.id, key!.id)).toBe(KEY.toString('hex'));
}, 180_000);

test('with it the archive opens; its entries are known by their hashes only, and read all the same', async () => {
  await bed.scan(game);
  const row = await archive();
  expect(row).toMatchObject({ state: 'open', entryCount: 5 });
  expect((await listKeys(game.id))[0]!.opens).toEqual(['one.hold']);
  expect(await named()).toEqual([]);
  const bodies: string[] = [];
  for (const { archiveId, index } of await listed()) {
    const { archive: store, entry } = await openedEntry(game.id, archiveId, index);
    bodies.push(Buffer.from(collect(store.plain(entry))).toString());
  }
  expect(bodies.sort()).toEqual(Object.values(BODIES).sort());
});

test('names come from a list, from a pattern, and from what other entries say', async () => {
  expect(await addNameList(game.id, 'a list', 'text/en/odd.txt\nnot/in/here.txt\n')).toBe(2);
  await expect(addNameList(game.id, 'nothing', '\n\n')).rejects.toThrow('no path in this text');
  await bed.scan(game);
  expect(await named()).toEqual(['text/en/odd.txt']);
  const [list] = await listNameLists(game.id);
  expect(list).toMatchObject({ title: 'a list', count: 2, used: 1, isForeign: false });
  expect((await nameListText(game.id, list!.id)).text).toBe('text/en/odd.txt\nnot/in/here.txt\n');
  const guessed = await tryPattern(game.id, 'boats/boat_{00..20}.txt', quietJob());
  expect(guessed).toMatchObject({ tried: 21, taken: 2 });
  await bed.scan(game);
  const learnt = await learnNames(game.id, quietJob());
  expect(learnt.taken).toBe(1);
  await bed.scan(game);
  expect(await named()).toEqual([
    'boats/boat_07.txt',
    'boats/boat_11.txt',
    'text/en/ibis.txt',
    'text/en/odd.txt',
  ]);
  // What nobody speaks of stays nameless, and trying again finds nothing more.
  expect((await learnNames(game.id, quietJob())).taken).toBe(0);
  expect((await listed('is:unnamed')).length).toBe(1);
  expect(() => tryPattern(game.id, 'a{000000..999999}{000000..999999}', quietJob())).toThrow(
    'Make its ranges smaller',
  );
});

test('a list that is shared serves another game, which may not share or keep it itself', async () => {
  const folder = path.join(bed.folder, 'other');
  fs.mkdirSync(folder);
  const entry: HoldEntry = { path: 'text/en/odd.txt', data: () => Buffer.from('Odd of another game') };
  writeHold(path.join(folder, 'two.hold'), [entry], { roll: false, rank: 1, salt: Buffer.alloc(16, 6) });
  const other = await addGame({ title: 'Other', folder });
  const [list] = await listNameLists(game.id);
  const namesThere = async (): Promise<string[]> => {
    await bed.scan(other);
    const { rows } = await findEntries({
      ...{ gameId: other.id, folder: '', search: 'is:named', kind: undefined, archiveId: undefined },
      ...{ sort: 'path', isDescending: false, offset: 0, limit: 10 },
    });
    return rows.map(({ path: name }) => name);
  };
  expect(await namesThere()).not.toContain('text/en/odd.txt');
  await shareNameList(game.id, list!.id, true);
  expect(await namesThere()).toContain('text/en/odd.txt');
  expect((await listNameLists(other.id))[0]).toMatchObject({ isForeign: true, used: 1 });
  await expect(shareNameList(other.id, list!.id, false)).rejects.toThrow('belongs to another game');
  await removeNameList(other.id, list!.id);
  expect((await listNameLists(game.id)).map(({ id }) => id)).toContain(list!.id);
});
