import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { GameView } from '../games/games';
import { openedEntry } from '../opening/opened';
import { TestBed, type Entry } from '../testing/bed';
import { historyOf, travel } from './history';
import {
  addMod,
  listChanges,
  noteChange,
  preparedBytes,
  removeChange,
  removeMod,
  replaceEntry,
} from './mods';

const bed = new TestBed();
let game: GameView;
let modId = 0;
let [odd, ibis]: [Entry, Entry] = [] as never;

beforeAll(async () => {
  await bed.begin();
  game = await bed.game('history', {
    'data.zip': { 'odd.txt': 'Odd says nothing.', 'ibis.txt': 'Ibis waits.' },
  });
});
afterAll(() => bed.end());
beforeEach(async () => {
  if (modId > 0) await removeMod(game.id, modId);
  modId = (await addMod(game.id, 'Talk')).id;
  [odd, ibis] = [await bed.entry(game, 'odd.txt'), await bed.entry(game, 'ibis.txt')];
});

const replace = async ({ archiveId, index }: Entry, text: string): Promise<unknown> =>
  replaceEntry(await openedEntry(game.id, archiveId, index), modId, bed.given('new.txt', text));
/** What the mod has by now: the text for each path. */
const texts = async (): Promise<Record<string, string>> => {
  const found: Record<string, string> = {};
  for (const { id, path } of await listChanges(game.id, modId))
    found[path] = Buffer.from((await preparedBytes(game.id, modId, id)).bytes).toString();
  return found;
};

describe('steps of a mod', () => {
  test('are taken back one by one, and done again', async () => {
    await replace(odd, 'one');
    await replace(odd, 'two');
    await replace(ibis, 'three');
    expect(await texts()).toEqual({ 'odd.txt': 'two', 'ibis.txt': 'three' });
    await travel(modId, 'undo');
    expect(await texts()).toEqual({ 'odd.txt': 'two' });
    await travel(modId, 'undo');
    expect(await texts()).toEqual({ 'odd.txt': 'one' });
    await travel(modId, 'redo');
    expect(await texts()).toEqual({ 'odd.txt': 'two' });
    // Something new ends what could be done again.
    await replace(ibis, 'four');
    expect((await historyOf(modId)).redo).toBeNull();
    await expect(travel(modId, 'redo')).rejects.toThrow(/nothing to redo/);
  });

  test('what is taken out comes back with its note', async () => {
    await replace(odd, 'one');
    const [change] = await listChanges(game.id, modId);
    await noteChange(game.id, modId, change!.id, 'check the voice');
    await removeChange(game.id, modId, change!.id);
    expect(await texts()).toEqual({});
    await travel(modId, 'undo');
    expect((await listChanges(game.id, modId)).map(({ note }) => note)).toEqual(['check the voice']);
  });

  test('a user and a work folder at once: each step knows what was there before it', async () => {
    const written = Array.from({ length: 8 }, (_, i) => `text ${i}`);
    await Promise.all(written.map((text) => replace(odd, text)));
    const seen: string[] = [];
    for (let i = 0; i < written.length; i++) {
      seen.push((await texts())['odd.txt']!);
      await travel(modId, 'undo');
    }
    // Taken back in turn, every text was there once, and nothing at first.
    expect([...seen].sort()).toEqual(written);
    expect(await texts()).toEqual({});
    expect((await historyOf(modId)).undo).toBeNull();
  });
});
