import { afterAll, beforeEach, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { encodeAdpcm, nibbleBytes } from '../../world/adpcm';
import { writeSongbook, type Take } from '../../world/songbook-writer';
import { bell, tune } from '../../world/sounds';
import { opus } from '../../world/tools';
import { Songbook } from './songbook';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-books-'));
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));

const KEY = Buffer.alloc(32, 7);
const SALT = Buffer.from('otherone');

/** Other takes than the demo's: a short one in codes, and one as Opus that is long enough for a reel. */
async function takes(): Promise<Take[]> {
  const wave = bell(500).subarray(0, 44 + 2 * 3001);
  const { first, nibbles } = encodeAdpcm(wave);
  const data = Buffer.concat([Buffer.alloc(4), nibbleBytes(nibbles, true)]);
  data.writeInt16LE(first, 0);
  const long = tune(
    'long',
    Array.from({ length: 24 }, (_, i) => 200 + 11 * i),
  );
  const samples = Math.round(((long.length - 44) / 2) * (48000 / 22050));
  return [
    { name: 'drip', codec: 'adpcm', rate: 22050, samples: nibbles.length, data },
    { name: 'shanty', codec: 'opus', rate: 48000, samples, data: await opus(long) },
  ];
}

let file: string;
beforeEach(async () => {
  file = path.join(fs.mkdtempSync(path.join(root, 'songs-')), '12.songbook');
  const { book, reels } = writeSongbook(await takes(), KEY, SALT);
  fs.writeFileSync(file, book);
  reels.forEach((reel, i) => fs.writeFileSync(file.replace('songbook', `reel${i + 1}`), reel));
});

const flip = (of: string, at: number): void => {
  const bytes = fs.readFileSync(of);
  bytes[at]! ^= 1;
  fs.writeFileSync(of, bytes);
};
/** Where the row of a take begins; rows stand in the order of their names. */
const ROW = { drip: 40, shanty: 72 };
/** Changes a row, with its list checked anew, as one would who does not know what a row has to agree with. */
function inRow(at: number, value: number): void {
  const bytes = fs.readFileSync(file);
  bytes.writeUInt32LE(value, at);
  let [low, high] = [1, 0];
  for (const byte of bytes.subarray(40, 104)) {
    low = (low + byte) % 65521;
    high = (high + low) % 65521;
  }
  bytes.writeUInt32LE(((high << 16) | low) >>> 0, 28);
  fs.writeFileSync(file, bytes);
}
const numberIn = (at: number): number => fs.readFileSync(file).readUInt32LE(at);
const open = (): Songbook => new Songbook(file, KEY);

test('plays takes in both codecs, from the book and from a reel', async () => {
  const book = open();
  expect([book.name, book.count]).toEqual(['12', 2]);
  const drip = book.take('drip');
  expect([drip.ending, drip.data.length]).toEqual(['wav', 44 + 2 * 3001]);
  const shanty = book.take('shanty');
  expect(shanty.ending).toBe('ogg');
  expect(shanty.data.equals((await takes())[1]!.data)).toBe(true);
});

describe('stalls', () => {
  test.each([
    ['the tag', () => flip(file, 0), 'book tag'],
    ['the version', () => flip(file, 8), 'book version'],
    ['the list of takes', () => flip(file, ROW.drip + 12), 'book check'],
    ['the salt', () => flip(file, 16), 'book key'],
    ['a missing reel', () => fs.rmSync(file.replace('songbook', 'reel1')), 'the reel is missing'],
    ['the tag of a reel', () => flip(file.replace('songbook', 'reel1'), 0), 'another book'],
    ['the salt of a reel', () => flip(file.replace('songbook', 'reel1'), 9), 'another book'],
  ])('when it opens: %s', (_what, damage, why) => {
    damage();
    expect(open).toThrow(why);
  });

  test('with another key', () => expect(() => new Songbook(file, Buffer.alloc(32, 8))).toThrow('book key'));

  test.each([
    ['drip', 'one byte of it', () => flip(file, numberIn(ROW.drip + 16) + 9), 'take check'],
    [
      'shanty',
      'one byte of it',
      () => flip(file.replace('songbook', 'reel1'), numberIn(ROW.shanty + 16) + 99),
      'take check',
    ],
    ['drip', 'too many samples', () => inRow(ROW.drip + 12, 3003), 'take length'],
    ['drip', 'too few samples', () => inRow(ROW.drip + 12, 2990), 'take length'],
    ['shanty', 'another length', () => inRow(ROW.shanty + 12, numberIn(ROW.shanty + 12) + 1), 'take length'],
    ['shanty', 'another rate', () => inRow(ROW.shanty + 8, 44100), 'take rate'],
    ['drip', 'a place outside', () => inRow(ROW.drip + 16, 1 << 30), 'take place'],
    ['drip', 'a reel that is not there', () => inRow(ROW.drip + 4, 0x00010901), 'take reel'],
    ['drip', 'another codec', () => inRow(ROW.drip + 4, 0x00010002), 'take codec'],
    ['shanty', 'another check', () => inRow(ROW.shanty + 24, 1), 'take check'],
  ])('at %s: %s', (name, _what, damage, why) => {
    damage();
    expect(() => open().take(name)).toThrow(why);
  });

  test('at a take that it has not', () =>
    expect(() => open().take('nothing')).toThrow('no take has this number'));
});
