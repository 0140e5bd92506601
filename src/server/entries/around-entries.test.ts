import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import type { GameView } from '../games/games';
import { addMod, listChanges, replaceEntry } from '../mods/mods';
import { buildMod } from '../building/builds';
import { installBuild } from '../installing/install';
import { restoreGame } from '../installing/restore';
import { compareChange, compareEntries, oldBytes } from '../looking/compare';
import { quietJob, TestBed } from '../testing/bed';
import { listAffixes, sayAffix } from './affixes';
import { chainOf, type Link } from './chain';
import { contentsMap } from './contents-map';
import { findEntries } from './entries';
import { addIdTable, addIdTableFromEntry, listIdTables, removeIdTable } from './id-tables';
import { entryLinks } from './links';
import { dropSearch, keepSearch, listSearches } from './saved-searches';

/** What stands around the list of entries: names for codes, what refers to what, where one is, searches that are kept. */
const bed = new TestBed();
let game: GameView;
const SAME = 'the very same words in two places';
beforeAll(async () => {
  await bed.begin();
  game = await bed.game('around', {
    'base.zip': {
      'boats/b01_hull.txt': 'a hull, see text/odd.txt and text/gone.txt',
      'boats/b02_hull.txt': SAME,
      'boats/b02_mast.txt': 'a mast',
      'boats/b03_mast.txt': 'another mast',
      'text/odd.txt': 'Odd says nothing.',
      'text/b02_hull.txt': SAME,
      'tables/boats.csv': 'code,name\nb01,Heron\nb02,Otter\nb02,Ibis\n',
      'tables/words.txt': 'no table at all',
    },
  });
});
afterAll(() => bed.end());

const labels = async (search: string): Promise<Record<string, readonly string[]>> => {
  const { rows } = await findEntries({
    ...{ gameId: game.id, folder: '', search, kind: undefined, archiveId: undefined },
    ...{ sort: 'path', isDescending: false, offset: 0, limit: 100 },
  });
  return Object.fromEntries(rows.map((row) => [row.path, row.labels]));
};

describe('names for codes', () => {
  test('come out of an entry of the game, are shown and searched by, and go with their table', async () => {
    const table = await addIdTableFromEntry(game.id, await bed.entry(game, 'tables/boats.csv'));
    expect(table).toEqual({ count: 2, doubled: ['b02'] });
    expect((await labels('b01'))['boats/b01_hull.txt']).toEqual(['Heron']);
    // What it is called is looked for in paths as its code.
    expect(Object.keys(await labels('otter'))).toContain('boats/b02_mast.txt');
    const [kept] = await listIdTables(game.id);
    expect(kept).toMatchObject({ title: 'boats.csv', origin: 'tables/boats.csv in base.zip' });
    await removeIdTable(game.id, kept!.id);
    expect((await labels('b01'))['boats/b01_hull.txt']).toEqual([]);
    await expect(removeIdTable(game.id, kept!.id)).rejects.toThrow('is not there');
  });

  test('come out of a text: CSV, pairs in JSON, and a broken one is refused in words', async () => {
    expect(await addIdTable(game.id, { title: 'json', text: '{"b03": "Widow"}' })).toMatchObject({
      count: 1,
    });
    expect((await labels('b03'))['boats/b03_mast.txt']).toEqual(['Widow']);
    for (const text of ['{"b03": ', 'one column\n', ''])
      await expect(addIdTable(game.id, { title: 'bad', text })).rejects.toThrow();
    const words = await bed.entry(game, 'tables/words.txt');
    await expect(addIdTableFromEntry(game.id, words)).rejects.toThrow();
    for (const { id } of await listIdTables(game.id)) await removeIdTable(game.id, id);
  });

  test('what else a table says of its codes is shown, narrows lists, and goes with it', async () => {
    const boats = 'code;name;built of;oars\nb01;Heron;oak;2\nb02_mast;Tall mast;ash;\nb02;Otter;reed;4\n';
    await addIdTable(game.id, { title: 'boats', text: boats });
    const asked = async (search: string) =>
      findEntries({
        ...{ gameId: game.id, folder: 'boats/', search, kind: undefined, archiveId: undefined },
        ...{ sort: 'path', isDescending: false, offset: 0, limit: 100 },
      });
    const all = await asked('');
    expect(all.facts.find(({ title }) => title === 'built of')?.values).toContainEqual({
      value: 'ash',
      count: 1,
    });
    expect(Object.fromEntries(all.rows.map(({ path, facts }) => [path, facts]))).toMatchObject({
      'boats/b01_hull.txt': [
        ['built of', 'oak'],
        ['oars', '2'],
      ],
      // The longest code that says something.
      'boats/b02_mast.txt': [
        ['built of', 'ash'],
        ['oars', '4'],
      ],
    });
    const paths = async (search: string): Promise<string[]> =>
      (await asked(search)).rows.map(({ path }) => path);
    expect(await paths('oars:>3')).toContain('boats/b02_mast.txt');
    expect(await paths('oars:>3')).not.toContain('boats/b01_hull.txt');
    expect(await paths('built-of:oak hull')).toEqual(['boats/b01_hull.txt']);
    const [{ more } = { more: [] }] = await listIdTables(game.id);
    expect(more).toEqual(['built of', 'oars']);
    // Numbers of one table are words where another has words under the title.
    await addIdTable(game.id, { title: 'more', text: 'code;name;oars\nmast;Mast;none\n' });
    expect((await asked('hull b01')).rows[0]!.facts).toContainEqual(['oars', '2']);
    expect(await paths('oars:2')).toEqual(['boats/b01_hull.txt']);
    expect(await paths('oars:none')).toContain('boats/b03_mast.txt');
    for (const { id } of await listIdTables(game.id)) await removeIdTable(game.id, id);
    expect((await asked('')).facts).toEqual([]);
  });

  test('beginnings and ends that many names share get a meaning', async () => {
    expect((await listAffixes(game.id)).map(({ affix }) => affix)).toContain('*_hull');
    await sayAffix(game.id, '*_hull', 'what floats');
    expect((await listAffixes(game.id))[0]).toMatchObject({ affix: '*_hull', meaning: 'what floats' });
    expect((await labels('b01'))['boats/b01_hull.txt']).toEqual(['what floats']);
    await sayAffix(game.id, '*_hull', '');
    expect((await labels('b01'))['boats/b01_hull.txt']).toEqual([]);
    await expect(sayAffix(game.id, 'hull', 'no star')).rejects.toThrow('is no beginning or end');
  });
});

describe('what an entry has to do with others', () => {
  const linksOf = async (name: string) => {
    const { archiveId, index } = await bed.entry(game, name);
    return entryLinks(game.id, archiveId, index);
  };

  test('paths in it that are there and that are not, namesakes, and the same bytes elsewhere', async () => {
    const hull = await linksOf('boats/b01_hull.txt');
    expect(hull.refersTo.map(({ path }) => path)).toEqual(['text/odd.txt']);
    expect(hull.missing).toEqual(['text/gone.txt']);
    const twin = await linksOf('boats/b02_hull.txt');
    expect(twin.identical.map(({ path }) => path)).toEqual(['text/b02_hull.txt']);
    expect(twin.namesakes.map(({ path }) => path)).toEqual(['text/b02_hull.txt']);
    const alone = await linksOf('text/odd.txt');
    expect([alone.identical, alone.namesakes, alone.missing]).toEqual([[], [], []]);
  });

  test('two are held against each other byte by byte', async () => {
    const of = (name: string) => bed.entry(game, name);
    const same = await compareEntries(game.id, await of('boats/b02_hull.txt'), await of('text/b02_hull.txt'));
    expect(same).toMatchObject({ isSame: true, sizes: [SAME.length, SAME.length] });
    const other = await compareEntries(
      game.id,
      await of('boats/b02_mast.txt'),
      await of('boats/b03_mast.txt'),
    );
    expect(other).toMatchObject({ isSame: false, sizes: [6, 12] });
    expect(other.differing).toBeGreaterThan(0);
  });
});

test('the map of the contents adds up to what answers', async () => {
  const { folders, kinds } = await contentsMap(game.id);
  expect(folders.map(({ name, count }) => [name, count]).sort()).toEqual([
    ['boats', 4],
    ['tables', 2],
    ['text', 2],
  ]);
  expect(kinds.reduce((sum, { count }) => sum + count, 0)).toBe(8);
  expect(folders.reduce((sum, { bytes }) => sum + bytes, 0)).toBe(
    kinds.reduce((sum, { bytes }) => sum + bytes, 0),
  );
});

test('searches are kept by their title', async () => {
  await keepSearch(game.id, { title: 'Hulls', address: 'search=_hull' });
  await keepSearch(game.id, { title: 'All', address: '' });
  await keepSearch(game.id, { title: 'Hulls', address: 'search=_hull.txt' });
  const kept = await listSearches(game.id);
  expect(kept.map(({ title, address }) => [title, address])).toEqual([
    ['All', ''],
    ['Hulls', 'search=_hull.txt'],
  ]);
  await dropSearch(game.id, kept[0]!.id);
  expect(await listSearches(game.id)).toHaveLength(1);
});

describe('the chain from folder to trial', () => {
  const linkOf = async (name: Link['name'], mod?: number): Promise<string> => {
    const { state, fact } = (await chainOf(game.id, mod)).find((link) => link.name === name)!;
    return `${state}: ${fact}`;
  };

  test('says how far a mod is, and what is behind', async () => {
    expect(await linkOf('locks')).toBe('good: 1 of 1 open');
    expect(await linkOf('contents')).toBe('good: 8 entries');
    expect(await linkOf('changes')).toBe('none: no changes');
    const { id } = await addMod(game.id, 'Masts');
    const give = async (text: string) =>
      replaceEntry(await bed.opened(game, 'boats/b02_mast.txt'), id, bed.given('mast.txt', text));
    await give('a higher mast');
    expect(await linkOf('changes', id)).toBe('look: 1 change');
    expect(await linkOf('build', id)).toBe('none: not built yet');
    const { buildId } = await buildMod(game.id, id, { way: 'shifted' }, quietJob());
    expect(await linkOf('build', id)).toBe('good: built and proved');
    await installBuild(game.id, buildId, quietJob());
    expect(await linkOf('installed', id)).toBe('good: Masts, 1 file');
    await bed.scan(game);
    await give('the highest mast of all');
    expect(await linkOf('build', id)).toBe('look: older than the changes');
    const [change] = await listChanges(game.id, id);
    // The old bytes are those of before the installation.
    const old = await oldBytes(game.id, id, change!.id, 0, 100);
    expect(Buffer.from(old).toString()).toBe('a mast');
    expect(await compareChange(game.id, id, change!.id)).toMatchObject({ isSame: false, sizes: [6, 23] });
    await restoreGame(game.id, 'ask', quietJob());
    expect(await linkOf('installed', id)).toBe('none: originals only');
  });

  test('says that a folder is gone, and that it is back', async () => {
    const aside = `${game.folder}-aside`;
    fs.renameSync(game.folder, aside);
    expect(await linkOf('folder')).toBe('bad: the folder is gone');
    await expect(bed.opened(game, 'text/odd.txt')).rejects.toThrow('is no longer there');
    fs.renameSync(aside, game.folder);
    expect(await linkOf('folder')).toMatch(/^good: 1 archive/);
  });
});
