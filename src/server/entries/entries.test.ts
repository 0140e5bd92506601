import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { listArchives, moveArchive } from '../games/archives';
import { listGames, type GameView } from '../games/games';
import { TestBed } from '../testing/bed';
import { findEntries, findFolders, findPlace, type EntryQuery } from './entries';
import { sayKind } from './kinds';
import { listTags, mark } from './marks';
import { findStack } from './catalogue';

const bed = new TestBed();
let game: GameView;
beforeAll(async () => {
  await bed.begin();
  game = await bed.game('entries', {
    'a.zip': { 'text/odd.txt': 'Odd says nothing.', 'text/ibis.txt': 'Ibis waits.', 'notes.lst': 'a list' },
    'b.zip': { 'text/odd.txt': 'Odd of the later archive.' },
  });
});
afterAll(() => bed.end());

const ask = (part: Partial<EntryQuery>): ReturnType<typeof findEntries> =>
  findEntries({
    ...{ gameId: game.id, folder: '', search: '', kind: undefined, archiveId: undefined },
    ...{ sort: 'path', isDescending: false, offset: 0, limit: 100, ...part },
  });
const pathsOf = async (part: Partial<EntryQuery>): Promise<string[]> =>
  (await ask(part)).rows.map(({ path: name, archive }) => `${name} in ${archive}`);

describe('one tree of all archives', () => {
  test('is listed, searched, sorted and cut into pages', async () => {
    expect(await pathsOf({})).toEqual([
      'notes.lst in a.zip',
      'text/ibis.txt in a.zip',
      // Of a path that two have, the one that answers.
      'text/odd.txt in b.zip',
    ]);
    expect(await pathsOf({ search: 'odd' })).toHaveLength(1);
    expect(await pathsOf({ folder: 'text/', search: 'ibis' })).toEqual(['text/ibis.txt in a.zip']);
    expect(await pathsOf({ offset: 1, limit: 1, isDescending: true })).toHaveLength(1);
    expect((await ask({ search: 'nothing like it' })).total).toBe(0);
    const tree = await findFolders(game.id, '');
    expect(JSON.stringify(tree)).toContain('text');
    const ibis = await bed.entry(game, 'text/ibis.txt');
    const query = { ...{ gameId: game.id, folder: '', search: '', kind: undefined, archiveId: undefined } };
    const place = await findPlace({ ...query, sort: 'path', isDescending: false, offset: 0, limit: 1 }, ibis);
    expect(place).toBe(1);
  });

  test('the later archive answers, until it is moved before the other', async () => {
    const winner = async (): Promise<string> =>
      (await findStack(game.id, 'text/odd.txt')).find(({ wins }) => wins)!.archive;
    expect(await winner()).toBe('b.zip');
    const [first] = (await listArchives(game.id)).filter(({ path: name }) => name === 'b.zip');
    await moveArchive(game.id, first!.id, 'first');
    await bed.scan(game);
    expect(await winner()).toBe('a.zip');
    await moveArchive(game.id, first!.id, 'last');
    await bed.scan(game);
    expect(await winner()).toBe('b.zip');
  });

  test('what the user says of a kind is laid over it and taken back', async () => {
    const kindOf = async (): Promise<string> => (await ask({ search: 'notes.lst' })).rows[0]!.kind;
    expect(await kindOf()).toBe('text');
    expect(await sayKind(game.id, { scope: 'ending', path: 'notes.lst', kind: 'archive' })).toBeNull();
    expect(await kindOf()).toBe('archive');
    expect(await sayKind(game.id, { scope: 'path', path: 'notes.lst', kind: 'model' })).toBeNull();
    expect(await kindOf()).toBe('model');
    expect(await sayKind(game.id, { scope: 'path', path: 'notes.lst', kind: null })).toBe('model');
    expect(await sayKind(game.id, { scope: 'ending', path: 'notes.lst', kind: null })).toBe('archive');
    await bed.scan(game);
    expect(await kindOf()).toBe('text');
  });

  test('marks are searched for, and one that says nothing goes', async () => {
    await mark(game.id, ['text/odd.txt', 'text/ibis.txt'], {
      add: ['talk', 'later'],
      note: 'check with Ibis',
    });
    await mark(game.id, ['text/ibis.txt'], { remove: ['later'], alias: 'the waiting one' });
    expect(await listTags(game.id)).toEqual([
      { tag: 'later', count: 1 },
      { tag: 'talk', count: 2 },
    ]);
    expect(await pathsOf({ search: 'tag:later' })).toEqual(['text/odd.txt in b.zip']);
    expect(await pathsOf({ search: 'waiting' })).toEqual(['text/ibis.txt in a.zip']);
    await mark(game.id, ['text/odd.txt', 'text/ibis.txt'], {
      remove: ['talk', 'later'],
      note: '',
      alias: '',
    });
    expect(await listTags(game.id)).toEqual([]);
  });

  test('a file that changes, comes or goes is seen by the next scan', async () => {
    bed.zip(path.join(game.folder, 'c.zip'), { 'text/heron.txt': 'The heron stands.' });
    await bed.scan(game);
    expect(await pathsOf({ search: 'heron' })).toEqual(['text/heron.txt in c.zip']);
    fs.writeFileSync(path.join(game.folder, 'c.zip'), 'no archive any more');
    await bed.scan(game);
    expect(await pathsOf({ search: 'heron' })).toEqual([]);
    fs.rmSync(path.join(game.folder, 'c.zip'));
    await bed.scan(game);
    expect((await listArchives(game.id)).map(({ path: name }) => name)).not.toContain('c.zip');
    expect((await listGames()).map(({ id }) => id)).toEqual([game.id]);
  });
});
