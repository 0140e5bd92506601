import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { plainForm, readWave, readWaveFacts, writeWave } from '@/media/sound/core/audio';
import { BoardRow, GameRow } from '@/db';
import type { GameView } from '../games/games';
import { addMod, listChanges, preparedBytes } from '../mods/mods';
import { openedEntry } from '../opening/opened';
import { TestBed } from '../testing/bed';
import { addBoard, changeBoard, findBoard, listBoards, removeBoard, sharedBoard, takeBoard } from './boards';
import { joinedStrip, stripOnto } from './joined';

/** Strips and pads with sounds of two games. */
const bed = new TestBed();
let one: GameView;
let other: GameView;
const level = (rate: number, seconds: number, value: number, channels = 1): Uint8Array =>
  writeWave(
    Array.from({ length: channels }, () => new Float32Array(Math.round(seconds * rate)).fill(value)),
    plainForm(rate, channels),
  );

beforeAll(async () => {
  await bed.begin();
  one = await bed.game('one', { 'a.zip': { 'readme.txt': 'sounds' } });
  bed.zipBytes(`${one.folder}/a.zip`, {
    'takes/low.wav': level(22050, 1, 0.25),
    'takes/high.wav': level(22050, 0.5, 0.5),
    'takes/no.wav': 'no sound',
  });
  await bed.scan(one);
  other = await bed.game('other', { 'b.zip': { 'readme.txt': 'sounds' } });
  bed.zipBytes(`${other.folder}/b.zip`, { 'music/wide.wav': level(44100, 1, 0.1, 2) });
  await bed.scan(other);
});
afterAll(() => bed.end());

const clip = (game: GameView, path: string, more: object = {}) => ({
  ...{ game: game.id, archive: game === one ? 'a.zip' : 'b.zip', path },
  ...more,
});
const strip = async (...clips: object[]): Promise<number> => {
  const { id, version } = await addBoard({ sort: 'strip', title: 'A strip' });
  await changeBoard(id, { content: { clips }, version });
  return id;
};

describe('a board', () => {
  test('is made, changed, listed and taken away', async () => {
    const { id, version } = await addBoard({ sort: 'pad', title: 'Pad' });
    const changed = await changeBoard(id, {
      ...{ title: 'Calls', version },
      content: { clips: [clip(one, 'takes/low.wav', { key: 'q' })] },
    });
    expect(changed).toMatchObject({ title: 'Calls', count: 1, version: 2 });
    expect(changed.places[0]).toMatchObject({ gameTitle: 'one', entry: { path: 'takes/low.wav' } });
    expect(await listBoards()).toMatchObject([{ id, title: 'Calls', count: 1 }]);
    await removeBoard(id);
    await expect(removeBoard(id)).rejects.toThrow('The board');
    await expect(findBoard(id)).rejects.toThrow('The board');
  });

  test('is not written over by a page that saw an older one', async () => {
    const id = await strip(clip(one, 'takes/low.wav'));
    await expect(changeBoard(id, { content: { clips: [] }, version: 1 })).rejects.toThrow(
      'changed elsewhere',
    );
    expect((await findBoard(id)).count).toBe(1);
    await expect(changeBoard(id, { content: { clips: [{}] }, version: 2 })).rejects.toThrow();
  });

  test('says of each clip where it is, or why it is nowhere', async () => {
    const id = await strip(
      clip(one, 'takes/low.wav'),
      clip(one, 'takes/gone.wav'),
      clip(other, 'music/wide.wav', { archive: 'c.zip' }),
      { ...clip(one, 'takes/low.wav'), game: 4711 },
    );
    const { places } = await findBoard(id);
    expect(places.map((place) => ('why' in place ? place.why : place.entry.path))).toEqual([
      'takes/low.wav',
      'a.zip of one has no takes/gone.wav now',
      'c.zip of other has no music/wide.wav now',
      'its game was taken off the shelf',
    ]);
    await expect(joinedStrip(id)).rejects.toThrow('Clip 2 is not there');
  });
});

describe('a strip', () => {
  test('is one sound at the highest rate and with the most channels', async () => {
    const id = await strip(
      clip(one, 'takes/low.wav', { from: 0.25, to: 0.75 }),
      clip(other, 'music/wide.wav', { gap: 0.5 }),
      clip(one, 'takes/high.wav', { gap: -0.5, gain: -6.0206 }),
    );
    const { bytes, title } = await joinedStrip(id);
    expect(title).toBe('A strip');
    const { rate, channels } = readWave(bytes);
    expect([rate, channels.length, channels[0]!.length]).toEqual([44100, 2, 88_200]);
    const at = (seconds: number): number =>
      Math.round(1000 * channels[1]![Math.round(seconds * rate)]!) / 1000;
    expect([at(0.25), at(0.75), at(1.25), at(1.75)]).toEqual([0.25, 0, 0.1, 0.35]);
  });

  test("takes the place of a sound, in that one's form", async () => {
    const id = await strip(clip(other, 'music/wide.wav'), clip(one, 'takes/high.wav', { gap: 0.1 }));
    const { id: mod } = await addMod(one.id, 'Joined');
    const { archiveId, index } = await bed.entry(one, 'takes/low.wav');
    expect(await stripOnto(await openedEntry(one.id, archiveId, index), mod, id)).not.toBe('does not fit');
    const [change] = await listChanges(one.id, mod);
    expect(change).toMatchObject({ path: 'takes/low.wav', givenName: 'A strip.wav' });
    const made = await preparedBytes(one.id, mod, change!.id);
    const { rate, channels, bits, frames } = readWaveFacts(made.bytes);
    expect([rate, channels, bits, frames]).toEqual([22050, 1, 16, Math.round(1.6 * 22050)]);
  });

  test('says what is wrong with it', async () => {
    await expect(joinedStrip(await strip())).rejects.toThrow('has no clips yet');
    await expect(joinedStrip(await strip(clip(one, 'takes/no.wav')))).rejects.toThrow('a sound');
    await expect(joinedStrip(await strip(clip(one, 'takes/low.wav', { from: 5 })))).rejects.toThrow(
      'a stretch',
    );
    const { id } = await addBoard({ sort: 'pad', title: 'Keys' });
    await expect(joinedStrip(id)).rejects.toThrow('Keys is no strip');
  });
});

describe('a board that is shared', () => {
  test('comes back as it was, by the titles of games', async () => {
    const id = await strip(clip(one, 'takes/low.wav', { gap: 1 }), clip(other, 'music/wide.wav'));
    const { name, text } = await sharedBoard(id);
    expect(name).toBe('A strip.strip.json');
    const back = await takeBoard(JSON.parse(text), undefined);
    expect(back.id).not.toBe(id);
    expect(back.content).toEqual((await findBoard(id)).content);
  });

  test('asks which game is meant where none is called so, and changes nothing until then', async () => {
    const id = await strip(clip(one, 'takes/low.wav'));
    const given = JSON.parse((await sharedBoard(id)).text.replace('"one"', '"A game elsewhere"')) as unknown;
    const count = await BoardRow.count();
    await expect(takeBoard(given, undefined)).rejects.toThrow('no game here is called so');
    expect(await BoardRow.count()).toBe(count);
    expect((await takeBoard(given, other.id)).content.clips[0]).toMatchObject({ game: other.id });
    await expect(takeBoard({ 'zero latch board': 1 }, one.id)).rejects.toThrow('This is no board');
  });

  test('outlives its games', async () => {
    const id = await strip(clip(other, 'music/wide.wav'));
    await GameRow.destroy({ where: { id: other.id } });
    expect((await findBoard(id)).places[0]).toMatchObject({ why: 'its game was taken off the shelf' });
    expect((await sharedBoard(id)).text).toContain(`Game ${other.id}`);
  });
});
