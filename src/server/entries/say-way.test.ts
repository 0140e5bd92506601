import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { encodeIma } from '@/media/sound/core/adpcm';
import { plainForm, readWave, signalToNoise, writeWave } from '@/media/sound/core/audio';
import type { GameView } from '../games/games';
import { knownOf, measureAll } from '../looking/measure-all';
import { heardBytes, unwrappedSound } from '../looking/sounds';
import { replacePath } from '../mods/incoming';
import { addMod, listChanges, preparedBytes } from '../mods/mods';
import { keepChecked } from '../opening/check-script';
import { openedEntry } from '../opening/opened';
import { keepBlob } from '../storage/storage';
import { quietJob, TestBed } from '../testing/bed';
import { gameCatalogue } from './catalogue';
import { sayWay } from './say-way';
import { saidWays } from './way-choices';

/** Sounds that a script says may be read in two ways, and what somebody says of them. */
const bed = new TestBed();
let game: GameView;
const SCRIPT = `format script: 1
title: Codes of a test
for: files
recognise: []
endings: ['.testcodes']
records: { nothing: { empty: bytes(0) } }
parts: { start: { type: nothing, at: 0 } }
entries: { each: '1', path: "'samples'", payload: { at: '0', size: file.size } }
sound:
  codec: "'ima-adpcm'"
  rate: '22050'
  or: [{ high first: '1' }]
`;
const samples = Int16Array.from({ length: 9000 }, (_, i) => 9000 * Math.sin(i / 9) * Math.sin(i / 900));
const codes = (isHighFirst: boolean): Uint8Array =>
  encodeIma([samples], { channels: 1, block: 0, hasHead: false, isHighFirst, turn: 4, start: 0 });

beforeAll(async () => {
  await bed.begin();
  await keepChecked(SCRIPT);
  game = await bed.game('ways', { 'a.zip': { 'readme.txt': 'sounds' } });
  bed.zipBytes(`${game.folder}/a.zip`, { 'low.testcodes': codes(false), 'high.testcodes': codes(true) });
  await bed.scan(game);
});
afterAll(() => bed.end());

/** How far what is heard is from what was coded, at most. */
const farOf = async (path: string): Promise<number> => {
  const { archiveId, index } = await bed.entry(game, path);
  const [heard] = readWave(unwrappedSound(await openedEntry(game.id, archiveId, index))!).channels;
  return heard!.reduce((most, value, i) => Math.max(most, Math.abs(value - samples[i]! / 32_768)), 0);
};
const known = async (): Promise<number> => knownOf((await gameCatalogue(game.id))!, 'sound').measured;

test('each is heard as it sounds most like one, until somebody says otherwise', async () => {
  expect(await farOf('low.testcodes')).toBeLessThan(0.03);
  expect(await farOf('high.testcodes')).toBeLessThan(0.03);
  await measureAll(game.id, 'sound', quietJob());
  expect(await known()).toBe(2);
});

test('what is put in the place of one is heard in the way in which it was written', async () => {
  const { id } = await addMod(game.id, 'Squares');
  // By its sound alone this square wave would be told wrongly in either way.
  const square = Float32Array.from({ length: 9000 }, (_, i) => (i % 16 < 8 ? 0.6 : -0.6));
  const bytes = writeWave([square], plainForm(22050, 1));
  const given = { name: 'square.wav', blob: keepBlob(bytes), size: bytes.length };
  for (const path of ['low.testcodes', 'high.testcodes'])
    await replacePath(game.id, id, path, given, ['convert sound']);
  const heard: Float32Array[] = [];
  for (const change of await listChanges(game.id, id)) {
    const made = await preparedBytes(game.id, id, change.id);
    heard.push(readWave(heardBytes(made.bytes, made.name)).channels[0]!);
  }
  expect(heard).toHaveLength(2);
  for (const one of heard) expect(signalToNoise([square], [one])).toBeGreaterThan(5);
});

test('what is said of one is heard at once, measured anew, and taken back', async () => {
  expect(await sayWay(game.id, { scope: 'path', name: 'low.testcodes', way: 1 })).toBeNull();
  expect(await known()).toBe(1);
  expect(await farOf('low.testcodes')).toBeGreaterThan(0.03);
  expect(await farOf('high.testcodes')).toBeLessThan(0.03);
  expect(await sayWay(game.id, { scope: 'path', name: 'low.testcodes', way: null })).toBe(1);
  expect(await farOf('low.testcodes')).toBeLessThan(0.03);
});

test('what is said of all that a script describes gives way to what is said of one', async () => {
  const name = 'Codes of a test';
  expect(await sayWay(game.id, { scope: 'script', name, way: 0 })).toBeNull();
  expect(await known()).toBe(0);
  expect(await farOf('high.testcodes')).toBeGreaterThan(0.03);
  await sayWay(game.id, { scope: 'path', name: 'high.testcodes', way: 1 });
  expect(await farOf('high.testcodes')).toBeLessThan(0.03);
  expect(await saidWays(game.id)).toEqual({ paths: { 'high.testcodes': 1 }, scripts: { [name]: 0 } });
});

test('what cannot be is no way, and what is of no entry does no harm', async () => {
  await sayWay(game.id, { scope: 'path', name: 'high.testcodes', way: 7 });
  expect(await farOf('low.testcodes')).toBeLessThan(0.03);
  expect(await sayWay(game.id, { scope: 'path', name: 'gone.testcodes', way: 1 })).toBeNull();
});
