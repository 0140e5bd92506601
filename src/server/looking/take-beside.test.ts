import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { plainForm, writeWave } from '@/media/sound/core/audio';
import type { GameView } from '../games/games';
import { replacePath } from '../mods/incoming';
import { addMod, listChanges } from '../mods/mods';
import { keepBlob } from '../storage/storage';
import { quietJob, TestBed } from '../testing/bed';
import { measureAll } from './measure-all';
import { alikeSounds } from './sound-alikes';
import { takeBeside } from './take-beside';

/** What belongs to a sound of a game: its line, its other languages, what sounds like it. */
const bed = new TestBed();
let game: GameView;
const RATE = 22050;
/** A tone that slides, louder or softer, in so many steps to a turn. */
const slide = (seconds: number, size: number, from: number): Uint8Array =>
  writeWave(
    [
      Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => {
        const t = i / RATE;
        return size * Math.sin(2 * Math.PI * (from * t + 300 * t * t));
      }),
    ],
    plainForm(RATE, 1),
  );

beforeAll(async () => {
  await bed.begin();
  game = await bed.game('takes', {
    'core.zip': {
      'text/en/odd.lines': 'odd.greeting\tMind the third plank.\nodd.fare\tTwo coins.\n',
      'text/de/odd.lines': 'odd.greeting\tAchtung, die dritte Planke.\n',
      'text/no/odd.lines': 'odd.greeting\tMind the third plank.\n',
      'text/en/ibis.lines': 'greeting\tIs this the boat?\n',
    },
    'voice.zip': { 'readme.txt': 'sounds' },
  });
  bed.zipBytes(`${game.folder}/voice.zip`, {
    'voice/en/odd/greeting.wav': slide(1, 0.5, 300),
    'voice/de/odd/greeting.wav': slide(1.1, 0.1, 300),
    'voice/no/odd/greeting.wav': slide(1, 0.5, 900),
    'voice/en/odd/fare.wav': slide(1, 0.4, 1500),
    'voice/de/odd/fare.wav': slide(3, 0.4, 300),
    'sound/mute.wav': slide(1, 0, 300),
  });
  await bed.scan(game);
});
afterAll(() => bed.end());

const beside = async (path: string) => {
  const { archiveId, index } = await bed.entry(game, path);
  const { lines, takes, missing } = await takeBeside(game.id, archiveId, index);
  return {
    lines: lines.map(({ text, from }) => [from.path, text]),
    takes: takes.map(({ name, entry }) => [name, entry.path]),
    missing,
  };
};
const alike = async (path: string) => {
  const { archiveId, index } = await bed.entry(game, path);
  const found = await alikeSounds(game.id, archiveId, index);
  return { ...found, alike: found.alike.map((one) => one.path) };
};

test('the line of a take in every table that has it, and the same line in all languages', async () => {
  expect(await beside('voice/en/odd/greeting.wav')).toEqual({
    lines: [
      ['text/en/odd.lines', 'Mind the third plank.'],
      ['text/de/odd.lines', 'Achtung, die dritte Planke.'],
    ],
    takes: [
      ['English', 'voice/en/odd/greeting.wav'],
      ['German', 'voice/de/odd/greeting.wav'],
      ['Norwegian', 'voice/no/odd/greeting.wav'],
    ],
    missing: [],
  });
});

test('a language that others beside it have and it has not is named; what is in no language has none', async () => {
  expect((await beside('voice/de/odd/fare.wav')).missing).toEqual(['Norwegian']);
  expect(await beside('sound/mute.wav')).toEqual({ lines: [], takes: [], missing: [] });
});

test('nothing is like it before anybody listened', async () => {
  expect(await alike('voice/en/odd/greeting.wav')).toMatchObject({ isKnown: false, measured: 0, alike: [] });
});

test('what sounds alike is found, softer and a little longer too, and nothing else', async () => {
  await measureAll(game.id, 'sound', quietJob());
  expect(await alike('voice/en/odd/greeting.wav')).toMatchObject({
    ...{ isKnown: true, measured: 6, all: 6, more: 0 },
    alike: ['voice/de/odd/greeting.wav'],
  });
  expect((await alike('voice/en/odd/fare.wav')).alike).toEqual([]);
  expect(await alike('sound/mute.wav')).toMatchObject({ isKnown: false, alike: [] });
});

test('a changed line points at the languages that were forgotten, until they are changed too', async () => {
  const { id } = await addMod(game.id, 'New lines');
  const left = async (): Promise<[string, number][]> =>
    (await listChanges(game.id, id)).map(({ path, findings }) => [
      path,
      findings.filter(({ code }) => code === 'change.left-take').length,
    ]);
  const bytes = slide(0.9, 0.5, 500);
  const given = { name: 'a.wav', blob: keepBlob(bytes), size: bytes.length };
  await replacePath(game.id, id, 'voice/en/odd/greeting.wav', given);
  expect(await left()).toEqual([['voice/en/odd/greeting.wav', 2]]);
  await replacePath(game.id, id, 'voice/de/odd/greeting.wav', given);
  expect(await left()).toEqual([
    ['voice/de/odd/greeting.wav', 1],
    ['voice/en/odd/greeting.wav', 1],
  ]);
});
