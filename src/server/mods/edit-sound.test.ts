import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import {
  loopsOf,
  markChunks,
  otherChunks,
  plainForm,
  readWave,
  readWaveFacts,
  writeWave,
} from '@/media/sound/core/audio';
import type { SoundEdit } from '@/media/sound/core/edit';
import { buildMod } from '../building/builds';
import type { GameView } from '../games/games';
import { installBuild } from '../installing/install';
import { restoreGame } from '../installing/restore';
import { quietJob, TestBed } from '../testing/bed';
import { editEntry } from './edit-sound';
import { travel } from './history';
import { addMod, listChanges, preparedBytes } from './mods';

/** Small edits of the sounds of a game, from the original or from what a mod has in its place. */
const bed = new TestBed();
let game: GameView;
let mod: number;
const RATE = 22050;
const ramp = Float32Array.from({ length: 2 * RATE }, (_, i) => 0.5 * Math.sin(i / 20) * (i / (2 * RATE)));
beforeAll(async () => {
  await bed.begin();
  game = await bed.game('edits', { 'texts.zip': { 'a.txt': 'no sound, but a text' } });
  const ogg = path.join(bed.folder, 'song.ogg');
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-f', 'lavfi', '-i', 'sine=frequency=300:duration=2:sample_rate=44100'],
    ogg,
  ]);
  bed.zipBytes(path.join(game.folder, 'sounds.zip'), {
    'ramp.wav': writeWave([ramp], plainForm(RATE, 1), markChunks(RATE, { from: 22050, to: 33074 }, [])),
    'song.ogg': fs.readFileSync(ogg),
  });
  await bed.scan(game);
});
afterAll(() => bed.end());
beforeEach(async () => {
  mod = (await addMod(game.id, 'Edits')).id;
});

const edit = async (name: string, ...edits: SoundEdit[]): Promise<string> =>
  editEntry(await bed.opened(game, name), mod, edits);
const prepared = async (): Promise<Uint8Array> => {
  const [change] = await listChanges(game.id, mod);
  return (await preparedBytes(game.id, mod, change!.id)).bytes;
};

test('a stretch is kept, in the form of the slot and with its loop where it is by then', async () => {
  expect(await edit('ramp.wav', { sort: 'keep', from: 0.5, to: 1.6 })).not.toBe('does not fit');
  const bytes = await prepared();
  const facts = readWaveFacts(bytes);
  expect(facts).toMatchObject({ rate: RATE, channels: 1, sort: 'whole', bits: 16, frames: 24255 });
  expect(loopsOf(otherChunks(bytes, facts))).toEqual([{ from: 11025, to: 22049 }]);
  expect(readWave(bytes).channels[0]![100]).toBeCloseTo(ramp[11125]!, 3);
});

test('the next edit goes on from the one before, and each is a step that is undone', async () => {
  await edit('ramp.wav', { sort: 'keep', from: 0, to: 1 });
  await edit('ramp.wav', { sort: 'cut', from: 0.25, to: 0.5 }, { sort: 'reverse' });
  const [change] = await listChanges(game.id, mod);
  expect(change!.givenName).toBe('ramp with keep, cut, reverse.wav');
  expect(readWaveFacts(await prepared()).frames).toBe(Math.round(0.75 * RATE));
  expect(readWave(await prepared()).channels[0]![0]).toBeCloseTo(ramp[RATE - 1]!, 3);
  await travel(mod, 'undo');
  expect(readWaveFacts(await prepared()).frames).toBe(RATE);
  await travel(mod, 'undo');
  expect(await listChanges(game.id, mod)).toEqual([]);
});

test('a packed sound is edited and packed again as the slot has it, and goes into the game and out', async () => {
  const before = fs.readFileSync(path.join(game.folder, 'sounds.zip'));
  await edit('song.ogg', { sort: 'keep', from: 0.2, to: 1.4 }, { sort: 'fade in', from: 0, to: 0.3 });
  const [change] = await listChanges(game.id, mod);
  expect(change!.findings.filter(({ state }) => state === 'does not fit')).toEqual([]);
  const { buildId } = await buildMod(game.id, mod, { way: 'shifted' }, quietJob());
  await installBuild(game.id, buildId, quietJob());
  const out = path.join(bed.folder, 'out');
  execFileSync('unzip', ['-qo', path.join(game.folder, 'sounds.zip'), 'song.ogg', '-d', out]);
  const said = execFileSync(
    'ffprobe',
    [
      '-v',
      'error',
      '-show_entries',
      'stream=codec_name,duration',
      '-of',
      'csv=p=0',
      path.join(out, 'song.ogg'),
    ],
    { encoding: 'utf8' },
  ).trim();
  expect(said).toMatch(/^vorbis,1\.2\d*$/);
  await restoreGame(game.id, 'ask', quietJob());
  await bed.scan(game);
  expect(fs.readFileSync(path.join(game.folder, 'sounds.zip'))).toEqual(before);
});

describe('what cannot be', () => {
  test.each<[string, SoundEdit, RegExp]>([
    ['a.txt', { sort: 'reverse' }, /a sound/],
    ['ramp.wav', { sort: 'keep', from: 5, to: 6 }, /a stretch within 2\.00 s/],
    ['ramp.wav', { sort: 'cut', from: 0, to: 9 }, /the whole sound/],
  ])('%s: %j is refused, and nothing is changed', async (name, one, message) => {
    await expect(edit(name, one)).rejects.toThrow(message);
    expect(await listChanges(game.id, mod)).toEqual([]);
  });
});
