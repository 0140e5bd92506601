import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { plainForm, writeWave } from '@/media/sound/core/audio';
import type { GameView } from '../games/games';
import { findEntries, type EntryItem } from '../entries/entries';
import { Cancelled, type JobContext } from '../running/job-context';
import { dropScript, keepScript } from '../opening/scripts';
import { quietJob, TestBed } from '../testing/bed';
import { knownOf, measureAll } from './measure-all';
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
  expect(knownOf((await gameCatalogue(game.id))!, 'sound')).toEqual({ kind: 'sound', all: 5, measured: 0 });
});

test('all sounds are measured, with what is the matter with some', async () => {
  const done = await measureAll(game.id, 'sound', quietJob());
  expect(done).toMatchObject({
    all: 5,
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
  expect((await measureAll(game.id, 'sound', counting)).detail).toMatch(/^0 sounds/);
  expect(asked).toBe(0);
  await bed.scan(game);
  expect(await names('is:silent')).toEqual(['mute.wav']);
});

test('an archive that changed is listened to anew, and a new sound with it', async () => {
  zip({ 'takes/mute.wav': tone(0.25, 0.5), 'takes/new.wav': tone(9, 0.5) });
  await bed.scan(game);
  expect(await names('is:measured')).toEqual([]);
  await measureAll(game.id, 'sound', quietJob());
  expect(await names('is:silent')).toEqual([]);
  expect(await names('length:>5s')).toEqual(['new.wav']);
});

test('loose sounds are measured each by itself: one that changed is another one', async () => {
  const loose = path.join(game.folder, 'loose.wav');
  fs.writeFileSync(loose, tone(0.1, 0.5));
  fs.writeFileSync(path.join(game.folder, 'kept.wav'), tone(0.2, 0.5));
  await bed.scan(game);
  await measureAll(game.id, 'sound', quietJob());
  expect(await names('length:<0.22s')).toEqual(['kept.wav', 'loose.wav']);
  fs.writeFileSync(loose, tone(7, 0.5));
  await bed.scan(game);
  expect(await names('length:<0.22s')).toEqual(['kept.wav']);
  expect((await measureAll(game.id, 'sound', quietJob())).detail).toMatch(/^1 sounds/);
  expect(await names('length:7s')).toEqual(['loose.wav']);
});

test('what nobody can decode is not called broken, and an archive that is gone is asked for again', async () => {
  // The head of a MIDI file: notes, and no samples.
  zip({ 'takes/notes.mid': Uint8Array.from([...Buffer.from('MThd'), 0, 0, 0, 6, 0, 0, 0, 1, 0, 96]) });
  await bed.scan(game);
  await measureAll(game.id, 'sound', quietJob());
  expect(await names('is:broken')).toEqual(['cut.wav']);
  expect(await names('is:measured')).toContain('notes.mid');
  const file = path.join(game.folder, 'takes.zip');
  zip({ 'takes/other.wav': tone(0.4, 0.2) });
  await bed.scan(game);
  fs.renameSync(file, `${file}.away`);
  const done = await measureAll(game.id, 'sound', quietJob());
  expect(done.measured).toBeLessThan(done.all);
  fs.renameSync(`${file}.away`, file);
  const again = await measureAll(game.id, 'sound', quietJob());
  expect(again.measured).toBe(again.all);
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
  await expect(measureAll(game.id, 'sound', stopped)).rejects.toThrow(Cancelled);
  const { measured } = knownOf((await gameCatalogue(game.id))!, 'sound');
  expect(measured).toBeGreaterThanOrEqual(32);
  expect(measured).toBeLessThan(77);
  const rest = await measureAll(game.id, 'sound', quietJob());
  expect(rest).toMatchObject({ all: 77, measured: 77 });
  expect(rest.detail.startsWith(`${77 - measured} sounds`)).toBe(true);
});

/** A row of triangles, as OBJ. */
const strip = (triangles: number): string =>
  [
    ...Array.from({ length: triangles + 2 }, (_, i) => `v ${i} ${i % 2} 0`),
    ...Array.from({ length: triangles }, (_, i) => `f ${i + 1} ${i + 2} ${i + 3}`),
  ].join('\n');
/** Places of corners behind how many there are, three of them a triangle. */
const ROCK = `format script: 1
title: Rocks
for: files
recognise: [{ at: 0, text: ROCK }]
records:
  head:
    tag: { type: text(4), fixed: ROCK }
    place: { type: u32, derived: place(payload) }
    bytes: { type: u32, derived: size(payload) }
parts: { head: { type: head, at: 0 } }
entries:
  - each: head
    path: "'vertices'"
    payload: { at: place, size: bytes }
    model: { stream: vertices, stride: 12, fields: { place: { at: 0, as: "'f32x3'" } } }
model: { up: y }
`;
const rock = (corners: number): Uint8Array => {
  const bytes = Buffer.alloc(12 + corners * 12);
  bytes.write('ROCK');
  bytes.writeUInt32LE(12, 4);
  bytes.writeUInt32LE(corners * 12, 8);
  for (let i = 0; i < corners * 3; i++) bytes.writeFloatLE((i * i) % 7, 12 + i * 4);
  return bytes;
};

test('models are counted by a job of their own, put in order, searched, and the finest of several alike told', async () => {
  zip({
    ...{ 'forms/post_fine.obj': strip(50), 'forms/post_coarse.obj': strip(6) },
    ...{ 'forms/cut.glb': Uint8Array.from(Buffer.from('glTF\x02\0\0\0')), 'forms/big.rock': rock(9) },
  });
  await bed.scan(game);
  const before = knownOf((await gameCatalogue(game.id))!, 'sound').measured;
  const done = await measureAll(game.id, 'model', quietJob());
  expect(done).toMatchObject({ kind: 'model', all: 3, measured: 3 });
  expect(done.detail).toMatch(/^3 models were counted/);
  expect(await names('triangles:>10')).toEqual(['forms/post_fine.obj']);
  expect(await names('vertices:8')).toEqual(['forms/post_coarse.obj']);
  expect(await names('is:finest')).toEqual(['forms/post_fine.obj']);
  expect(await names('is:broken kind:model')).toEqual(['forms/cut.glb']);
  const [fine] = await listed('post_fine');
  expect(fine!.measured).toEqual({ triangles: 50, vertices: 52, bones: 0, clips: 0, found: ['finest'] });
  // What is known of sounds is none of its business.
  expect(knownOf((await gameCatalogue(game.id))!, 'sound').measured).toBe(before);
});

test('a script that is written later has its models counted then', async () => {
  const { id } = keepScript(ROCK);
  await bed.scan(game);
  expect(knownOf((await gameCatalogue(game.id))!, 'model')).toEqual({ kind: 'model', all: 4, measured: 0 });
  await measureAll(game.id, 'model', quietJob());
  expect(await names('triangles:3 kind:model')).toEqual(['forms/big.rock']);
  dropScript(id);
});
