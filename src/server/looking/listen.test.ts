import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { plainForm, writeWave } from '@/media/sound/core/audio';
import type { GameView } from '../games/games';
import { findEntries, type EntryItem } from '../entries/entries';
import { Cancelled, type JobContext } from '../running/job-context';
import { quietJob, TestBed } from '../testing/bed';
import { listenedOf, listenToAll } from './listen';
import { gameCatalogue } from '../entries/catalogue';

/** Sounds of a game are listened to, and what is known of them is found, put in order and kept. */
const bed = new TestBed();
let game: GameView;
const RATE = 22050;
const tone = (seconds: number, size: number): Uint8Array =>
  writeWave(
    [Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => size * Math.sin(i / 9))],
    plainForm(RATE, 1),
  );
const cut = (bytes: Uint8Array): Uint8Array => bytes.subarray(0, bytes.length - 999);
const SOUNDS = {
  'takes/short.wav': tone(0.5, 0.5),
  'takes/long.wav': tone(3, 0.05),
  'takes/mute.wav': tone(1, 0),
  'takes/loud.wav': tone(2, 4),
  'takes/cut.wav': cut(tone(1, 0.5)),
};
const zip = (more: Record<string, Uint8Array | string> = {}): void => {
  const file = path.join(bed.folder, 'listen', 'takes.zip');
  fs.rmSync(file, { force: true });
  bed.zipBytes(file, { ...SOUNDS, 'readme.txt': 'no sound', ...more });
};
beforeAll(async () => {
  await bed.begin();
  game = await bed.game('listen', { 'other.zip': { 'a.txt': 'a' } });
  zip();
  await bed.scan(game);
});
afterAll(() => bed.end());

const listed = async (
  search: string,
  sort: 'path' | 'length' = 'path',
  isDescending = false,
): Promise<EntryItem[]> => [
  ...(
    await findEntries({
      ...{ gameId: game.id, folder: '', search, kind: undefined, archiveId: undefined },
      ...{ sort, isDescending, offset: 0, limit: 100 },
    })
  ).rows,
];
const names = async (...asked: Parameters<typeof listed>): Promise<string[]> =>
  (await listed(...asked)).map(({ path: name }) => name.replace('takes/', ''));

test('before anybody listens nothing is known', async () => {
  expect(await names('length:>0s')).toEqual([]);
  expect(listenedOf((await gameCatalogue(game.id))!)).toEqual({ sounds: 5, measured: 0 });
});

test('all sounds are measured, with what is the matter with some', async () => {
  const done = await listenToAll(game.id, quietJob());
  expect(done).toMatchObject({
    sounds: 5,
    measured: 5,
    detail: expect.stringContaining('5 sounds were listened to'),
  });
  expect(await names('length:<1.5s')).toEqual(['mute.wav', 'short.wav']);
  expect(await names('kind:sound', 'length')).toEqual([
    'short.wav',
    'mute.wav',
    'loud.wav',
    'long.wav',
    'cut.wav',
  ]);
  expect((await names('kind:sound', 'length', true)).at(-1)).toBe('cut.wav');
  expect([await names('is:silent'), await names('is:clipped'), await names('is:broken')]).toEqual([
    ['mute.wav'],
    ['loud.wav'],
    ['cut.wav'],
  ]);
  const [short] = await listed('short');
  expect(short!.measured).toEqual({ length: 0.5, level: expect.closeTo(-9, 0), found: [] });
  const [text] = await listed('readme');
  expect(text!.measured).toBeUndefined();
});

test('what is known is not worked out again, and outlives a scan of the same folder', async () => {
  let asked = 0;
  const counting: JobContext = { ...quietJob(), progress: () => void asked++ };
  expect((await listenToAll(game.id, counting)).detail).toMatch(/^0 sounds/);
  expect(asked).toBe(0);
  await bed.scan(game);
  expect(await names('is:silent')).toEqual(['mute.wav']);
});

test('an archive that changed is listened to anew, and a new sound with it', async () => {
  zip({ 'takes/mute.wav': tone(0.25, 0.5), 'takes/new.wav': tone(9, 0.5) });
  await bed.scan(game);
  expect(await names('is:measured')).toEqual([]);
  await listenToAll(game.id, quietJob());
  expect(await names('is:silent')).toEqual([]);
  expect(await names('length:>5s')).toEqual(['new.wav']);
});

test('loose sounds are measured each by itself: one that changed is another one', async () => {
  const loose = path.join(game.folder, 'loose.wav');
  fs.writeFileSync(loose, tone(0.1, 0.5));
  fs.writeFileSync(path.join(game.folder, 'kept.wav'), tone(0.2, 0.5));
  await bed.scan(game);
  await listenToAll(game.id, quietJob());
  expect(await names('length:<0.22s')).toEqual(['kept.wav', 'loose.wav']);
  fs.writeFileSync(loose, tone(7, 0.5));
  await bed.scan(game);
  expect(await names('length:<0.22s')).toEqual(['kept.wav']);
  expect((await listenToAll(game.id, quietJob())).detail).toMatch(/^1 sounds/);
  expect(await names('length:7s')).toEqual(['loose.wav']);
});

test('what nobody can decode is not called broken, and an archive that is gone is asked for again', async () => {
  // The head of a MIDI file: notes, and no samples.
  zip({ 'takes/notes.mid': Uint8Array.from([...Buffer.from('MThd'), 0, 0, 0, 6, 0, 0, 0, 1, 0, 96]) });
  await bed.scan(game);
  await listenToAll(game.id, quietJob());
  expect(await names('is:broken')).toEqual(['cut.wav']);
  expect(await names('is:measured')).toContain('notes.mid');
  const file = path.join(game.folder, 'takes.zip');
  zip({ 'takes/other.wav': tone(0.4, 0.2) });
  await bed.scan(game);
  fs.renameSync(file, `${file}.away`);
  const done = await listenToAll(game.id, quietJob());
  expect(done.measured).toBeLessThan(done.sounds);
  fs.renameSync(`${file}.away`, file);
  const again = await listenToAll(game.id, quietJob());
  expect(again.measured).toBe(again.sounds);
});

test('one that is stopped keeps what it has, and goes on there', async () => {
  const many = Object.fromEntries(Array.from({ length: 70 }, (_, i) => [`more/${i}.wav`, tone(0.05, 0.3)]));
  zip(many);
  await bed.scan(game);
  let checks = 0;
  const stopped: JobContext = {
    ...quietJob(),
    progress(done) {
      checks = done;
    },
    check() {
      if (checks >= 32) throw new Cancelled();
    },
  };
  await expect(listenToAll(game.id, stopped)).rejects.toThrow(Cancelled);
  const { measured } = listenedOf((await gameCatalogue(game.id))!);
  expect(measured).toBeGreaterThanOrEqual(32);
  expect(measured).toBeLessThan(77);
  const rest = await listenToAll(game.id, quietJob());
  expect(rest).toMatchObject({ sounds: 77, measured: 77 });
  expect(rest.detail.startsWith(`${77 - measured} sounds`)).toBe(true);
});
