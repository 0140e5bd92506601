import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { writeWave as writeTone } from '../../../../demo/world/sounds';
import { ferrySongbook, widowSongbook } from '../../../../demo/world/lanternfen/songs';
import { GAME_KEY } from '../../../../demo/world/lanternfen/program';
import { Songbook } from '../../../../demo/runtime/lanternfen/songbook';
import { openArchive, type Archive, type Entry } from '@/core/archive';
import { collect, memorySource, refOfBytes } from '@/core/bytes';
import { listArchive } from '@/core/catalogue';
import type { Mend, Prepared } from '@/core/fit';
import { kindOfCode } from '@/core/kinds';
import {
  editEntries,
  emit,
  otherCodecs,
  planArchive,
  proveArchive,
  proveBuild,
  withRecoded,
  type BuildPlan,
} from '@/core/mod';
import { parseScript } from '@/core/script';
import { fitBy } from '@/media/asking';
import { readTracks } from '@/media/film/core';
import type { MediaTools } from '@/media/medium';
import { MEDIA_NODE } from '@/media/node';
import { readWave, readWaveFacts } from '../core/audio';
import { besideEntry, describedIn, withBeside, wrappedSoundOf } from '@/platform/node/media-scripts';
import { nodePrimitives } from '@/platform/node/primitives';

/** Takes of a keyed songbook heard, replaced and played by the stand-in, which was written by itself. */
const root = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-takes-'));
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));
const none = (): undefined => undefined;
const { book, reels } = await widowSongbook();
const script = parseScript(fs.readFileSync('scripts/formats/songbook-peatfire.yaml', 'utf8'));
const tools: MediaTools = {
  scripts: none,
  pixelsOf: () => Promise.reject(new Error('no picture')),
  encodeImage: () => Promise.reject(new Error('no picture')),
  tracksOf: (bytes) => readTracks(bytes.length, (at, length) => bytes.subarray(at, at + length)),
};

const options = (files: readonly Uint8Array[]) => ({
  primitives: nodePrimitives,
  keys: new Map([['game', new Uint8Array(GAME_KEY)]]),
  companion: (name: string, _type: string, number: number) =>
    files[number] && memorySource(files[number], name),
});
const open = (of: Uint8Array, files: readonly Uint8Array[]): Archive =>
  openArchive(script, memorySource(of, '0417.songbook'), options(files));
const archive = open(book, reels);
const entryOf = (name: string): Entry => archive.entries.find(({ path: own }) => own.startsWith(name))!;
const bytesOf = (of: Archive, entry: Entry): Uint8Array =>
  withBeside(collect(of.plain(entry)), besideEntry(of, entry.path), describedIn(of, entry));
const heard = (of: Archive, entry: Entry): Uint8Array =>
  wrappedSoundOf(bytesOf(of, entry), entry.path, none)!.inner;

/** The stand-in's view of a book and its reels. */
function played(files: readonly Uint8Array[]): Songbook {
  const file = path.join(fs.mkdtempSync(path.join(root, 'game-')), '0417.songbook');
  files.forEach((bytes, i) => fs.writeFileSync(i === 0 ? file : file.replace('songbook', `reel${i}`), bytes));
  return new Songbook(file, GAME_KEY);
}
/** The archive with one entry replaced, as files. */
function built(index: number, bytes: Uint8Array): Uint8Array[] {
  return filesOf(planArchive(archive, new Map([[index, refOfBytes(bytes)]])));
}
function filesOf(plan: BuildPlan): Uint8Array[] {
  return plan.files.map((file) => {
    const parts: Uint8Array[] = [];
    emit(file, { write: (part) => void parts.push(part.slice()) });
    return new Uint8Array(Buffer.concat(parts));
  });
}
const give = (entry: Entry, bytes: Uint8Array, name: string, ...mends: Mend[]): Promise<Prepared> =>
  fitBy(
    MEDIA_NODE,
    { bytes: bytesOf(archive, entry), name: entry.path, kind: 'sound' },
    { bytes, name },
    new Set(mends),
    tools,
  );

let mp3: Uint8Array;
beforeAll(() => {
  const file = path.join(root, 'given.mp3');
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    'sine=frequency=300:duration=1.7:sample_rate=44100',
    '-ac',
    '2',
    file,
  ]);
  mp3 = new Uint8Array(fs.readFileSync(file));
});

test('every take is a sound, and heard as the engine plays it', () => {
  const { kinds } = listArchive(archive);
  expect(new Set([...kinds].map(kindOfCode))).toEqual(new Set(['sound']));
  const engine = played([book, ...reels]);
  expect(archive.entries).toHaveLength(engine.count);
  for (const entry of archive.entries) {
    const { data, ending } = engine.take(entry.path.replace(/\.\w+$/, ''));
    const ours = heard(archive, entry);
    if (ending === 'ogg') expect(Buffer.from(ours).equals(data)).toBe(true);
    else {
      const { dataOffset, frames, rate } = readWaveFacts(ours);
      expect([rate, frames]).toEqual([22050, (data.length - 44) / 2]);
      expect(Buffer.from(ours.subarray(dataOffset, dataOffset + 2 * frames)).equals(data.subarray(44))).toBe(
        true,
      );
    }
  }
});

test('the book proves itself, lengths that follow from the takes among it', () => {
  expect(proveArchive(archive, options(reels))).toMatchObject({ holds: true });
});

describe.each([
  ['0417/003', 'adpcm'],
  ['0417/007', 'opus'],
])('take %s, which is %s', (name, codec) => {
  const entry = entryOf(name);

  test('takes an MP3 once it is converted, longer than it was, and the engine plays it', async () => {
    expect(entry.path).toBe(`${name}.${codec}`);
    const first = await give(entry, mp3, 'given.mp3');
    expect(first).toMatchObject({
      bytes: undefined,
      findings: [{ state: 'does not fit', mend: 'convert sound' }],
    });
    const { bytes, findings } = await give(entry, mp3, 'given.mp3', 'convert sound');
    expect(findings.filter(({ state }) => state === 'does not fit')).toEqual([]);
    const files = built(entry.index, bytes!);
    const engine = played(files);
    const { data, ending } = engine.take(name);
    expect(ending).toBe(codec === 'opus' ? 'ogg' : 'wav');
    if (ending === 'wav') {
      const { channels, rate } = readWave(new Uint8Array(data));
      expect(channels[0]!.length / rate).toBeCloseTo(1.7, 1);
      // Three hundred hertz pass zero twice in each swing.
      let turns = 0;
      for (let i = 1; i < rate; i++) if (channels[0]![i]! >= 0 !== channels[0]![i - 1]! >= 0) turns++;
      expect(turns).toBeGreaterThan(590);
      expect(turns).toBeLessThan(610);
    }
    const again = open(files[0]!, files.slice(1));
    expect(heard(again, again.entries[entry.index]!)).toEqual(
      wrappedSoundOf(
        withBeside(bytes!, besideEntry(again, entry.path), describedIn(again, again.entries[entry.index]!)),
        entry.path,
        none,
      )!.inner,
    );
    expect(proveArchive(again, options(files.slice(1)))).toMatchObject({ holds: true });
    // All other takes are as they were.
    for (const other of archive.entries)
      if (other !== entry)
        expect(collect(again.plain(again.entries[other.index]!))).toEqual(collect(archive.plain(other)));
  });

  test('takes a shorter one, and after it another', async () => {
    for (const seconds of [0.2001, 0.5]) {
      const tone = writeTone(
        Float64Array.from({ length: Math.round(seconds * 22050) }, (_, i) => 0.3 * Math.sin(i / 9)),
      );
      const { bytes } = await give(entry, new Uint8Array(tone), 'tone.wav', 'convert sound');
      expect(() => played(built(entry.index, bytes!)).take(name)).not.toThrow();
    }
  });
});

test.each([
  ['0417/003', 0],
  ['0417/010', 1],
])('a book of its own with take %s alone is asked first, and plays', async (name, reel) => {
  const { index } = entryOf(name);
  const { bytes } = await give(archive.entries[index]!, mp3, 'given.mp3', 'convert sound');
  const removed = new Set(archive.entries.map((entry) => entry.index).filter((other) => other !== index));
  const edited = editEntries(open(book, reels), { added: [], removed, rank: 7 });
  const files = filesOf(
    planArchive(edited.archive, new Map([[edited.newNumbers[index]!, refOfBytes(bytes!)]]), {
      edits: edited.marks,
    }),
  );
  const engine = played(files);
  expect([engine.count, engine.rank, engine.has(name), engine.has('0417/001')]).toEqual([1, 7, true, false]);
  expect(() => engine.take(name)).not.toThrow();
  const again = open(files[0]!, files.slice(1));
  expect(again.entries.map(({ path: own, file }) => [own.slice(0, 8), file])).toEqual([[name, reel]]);
  expect(proveArchive(again, options(files.slice(1)))).toMatchObject({ holds: true });
});

describe('a take that is kept in another codec', () => {
  const seal = options(reels);
  const fitted = async (entry: Entry, word: string): Promise<Uint8Array> => {
    const slot = withRecoded(archive, entry, word, seal, (made, one) => {
      expect(one.path).toBe(entry.path.replace(/\w+$/, word));
      const described = describedIn(made, one)?.();
      return withBeside(collect(made.plain(one)), besideEntry(made, one.path), () => described);
    });
    const asked = { bytes: slot, name: entry.path, kind: 'sound' };
    const { bytes, findings } = await fitBy(
      MEDIA_NODE,
      asked,
      { bytes: mp3, name: 'given.mp3' },
      new Set(['convert sound']),
      tools,
    );
    expect(findings.filter(({ state }) => state === 'does not fit')).toEqual([]);
    return bytes!;
  };
  const wordFor = ({ path: own }: Entry): string => (own.endsWith('adpcm') ? 'opus' : 'adpcm');

  test.each([
    ['0417/003', 'opus', 'ogg'],
    ['0417/007', 'adpcm', 'wav'],
    // One that lies in a reel.
    ['0417/010', 'adpcm', 'wav'],
  ])('%s as %s is played, keeps its number, and the book proves itself', async (name, word, ending) => {
    const entry = entryOf(name);
    if (entry.path.endsWith(word)) throw new Error('already so');
    expect(otherCodecs(archive, entry)).toEqual([word]);
    const bytes = await fitted(entry, word);
    const edited = editEntries(open(book, reels), { recoded: new Map([[entry.index, word]]) });
    const number = edited.newNumbers[entry.index]!;
    const changes = new Map([[number, refOfBytes(bytes)]]);
    const files = filesOf(planArchive(edited.archive, changes, { edits: edited.marks }));
    const engine = played(files);
    expect(engine.count).toBe(archive.entries.length);
    const { data, ending: now } = engine.take(name);
    expect(now).toBe(ending);
    if (now === 'wav') {
      const { channels, rate } = readWave(new Uint8Array(data));
      expect(channels[0]!.length / rate).toBeCloseTo(1.7, 1);
    }
    const again = open(files[0]!, files.slice(1));
    expect(again.entries[number]!.path).toBe(`${name}.${word}`);
    expect(proveBuild(archive, again, { changes, edited })).toMatchObject({ holds: true });
    expect(proveArchive(again, options(files.slice(1)))).toMatchObject({ holds: true });
    // And back again.
    const back = again.entries[number]!;
    expect(otherCodecs(again, back)).toEqual([wordFor(back)]);
  });

  test('several at once, beside one that is taken out', async () => {
    const [first, second, gone] = [entryOf('0417/003'), entryOf('0417/007'), entryOf('0417/005')];
    const recoded = new Map([first, second].map((entry) => [entry.index, wordFor(entry)]));
    const edited = editEntries(open(book, reels), {
      recoded,
      removed: new Set([gone.index]),
    });
    const given = await Promise.all([first, second].map((entry) => fitted(entry, wordFor(entry))));
    const changes = new Map(
      [first, second].map((entry, i) => [edited.newNumbers[entry.index]!, refOfBytes(given[i]!)]),
    );
    const files = filesOf(planArchive(edited.archive, changes, { edits: edited.marks }));
    const engine = played(files);
    expect(['0417/003', '0417/007'].map((name) => engine.take(name).ending)).toEqual(['ogg', 'wav']);
    expect(engine.has('0417/005')).toBe(false);
  });

  test('what its script has no word for, and what the archive has nothing in, is refused', () => {
    const entry = entryOf('0417/003');
    const recoded = new Map([[entry.index, 'vorbis']]);
    expect(() => editEntries(open(book, reels), { recoded })).toThrow(/adpcm, opus.*vorbis/s);
    const removed = new Set(
      archive.entries.filter(({ path: own }) => own.endsWith('opus')).map(({ index }) => index),
    );
    const without = editEntries(open(book, reels), { removed }).archive;
    const left = without.entries.find(({ path: own }) => own === entry.path)!;
    expect(otherCodecs(without, left)).toEqual([]);
  });
});

test('a text is refused, and so is what a take cannot be', async () => {
  const text = new Uint8Array(Buffer.from('no sound at all, but a text of some length'));
  const short = await give(entryOf('0417/003'), text, 'a.txt');
  expect(short).toMatchObject({ bytes: undefined, findings: [{ state: 'does not fit' }] });
  const long = await give(entryOf('0417/007'), text, 'a.txt', 'convert sound');
  expect(long).toMatchObject({ bytes: undefined, findings: [{ state: 'does not fit' }] });
});

test('the songs of the ferry are whole, long ones as short ones', async () => {
  const ferry = await ferrySongbook();
  const songs = openArchive(script, memorySource(ferry.book, 'ferry.songbook'), options(ferry.reels));
  for (const entry of songs.entries) expect(() => collect(songs.plain(entry))).not.toThrow();
});
