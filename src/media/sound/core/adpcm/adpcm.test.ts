import { afterAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import {
  decodeIma,
  decodeMs,
  encodeIma,
  encodeMs,
  imaSamplesIn,
  MS_COEFFICIENTS,
  msSamplesIn,
} from './index';

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-adpcm-'));
afterAll(() => fs.rmSync(folder, { recursive: true }));
const at = (name: string): string => path.join(folder, name);
const ffmpeg = (...args: string[]): Buffer =>
  execFileSync('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args], { maxBuffer: 1 << 26 });

/** A sweep with noise on it, whose channels differ. */
const SOUND = [
  '-f',
  'lavfi',
  '-i',
  'aevalsrc=0.5*sin(2*PI*t*(200+900*t))+0.02*random(0)|0.4*sin(2*PI*t*330):s=22050:d=1.2',
];

interface Wave {
  readonly channels: number;
  readonly block: number;
  readonly data: Buffer;
}
/** Format and samples of a wave file, found by their names. */
function waveOf(file: string): Wave {
  const bytes = fs.readFileSync(file);
  const format = bytes.indexOf('fmt ');
  const data = bytes.indexOf('data', format);
  return {
    channels: bytes.readUInt16LE(format + 10),
    block: bytes.readUInt16LE(format + 20),
    data: bytes.subarray(data + 8, data + 8 + bytes.readUInt32LE(data + 4)),
  };
}
const samplesOf = (bytes: Buffer, channels: number): Int16Array[] =>
  Array.from({ length: channels }, (_, c) =>
    Int16Array.from({ length: bytes.length / 2 / channels }, (__, i) =>
      bytes.readInt16LE(2 * (i * channels + c)),
    ),
  );
/** Signal to noise in decibels. */
function ratio(wanted: Int16Array, got: Int16Array): number {
  let [signal, noise] = [0, 0];
  for (let i = 0; i < Math.min(wanted.length, got.length); i++) {
    signal += wanted[i]! ** 2;
    noise += (wanted[i]! - got[i]!) ** 2;
  }
  return 10 * Math.log10(signal / noise);
}
/** A wave file in the form of another with other samples, for another program to read. */
function withData(file: string, data: Uint8Array, to: string): void {
  const bytes = fs.readFileSync(file);
  const place = bytes.indexOf('data', bytes.indexOf('fmt '));
  const length = Buffer.alloc(4);
  length.writeUInt32LE(data.length);
  const head = Buffer.from(bytes.subarray(0, place + 4));
  head.writeUInt32LE(place + data.length, 4);
  fs.writeFileSync(to, Buffer.concat([head, length, data]));
}

describe.each([1, 2])('%i channels', (channels) => {
  test('IMA in wave files: as another program decodes it, and coded as well as that does', () => {
    ffmpeg(...SOUND, '-ac', String(channels), '-c:a', 'adpcm_ima_wav', at('a.wav'));
    ffmpeg(...SOUND, '-ac', String(channels), '-c:a', 'pcm_s16le', '-f', 's16le', at('plain.raw'));
    const wave = waveOf(at('a.wav'));
    const layout = { channels, block: wave.block, hasHead: true, isHighFirst: false, turn: 4 };
    const ours = decodeIma(wave.data, layout);
    const theirs = samplesOf(ffmpeg('-i', at('a.wav'), '-f', 's16le', '-'), channels);
    const plain = samplesOf(fs.readFileSync(at('plain.raw')), channels);
    for (const [c, one] of ours.entries()) {
      // They multiply where the recommendation adds shifted steps, which rounds otherwise.
      expect(ratio(theirs[c]!, one)).toBeGreaterThan(45);
      expect(one.length).toBeGreaterThanOrEqual(theirs[c]!.length);
    }
    const coded = encodeIma(plain, layout);
    withData(at('a.wav'), coded, at('ours.wav'));
    const heard = samplesOf(ffmpeg('-i', at('ours.wav'), '-f', 's16le', '-'), channels);
    for (const [c, one] of plain.entries()) {
      expect(ratio(one, heard[c]!)).toBeGreaterThan(ratio(one, theirs[c]!) - 1.5);
      expect(ratio(one, decodeIma(coded, layout)[c]!)).toBeGreaterThan(ratio(one, theirs[c]!) - 1.5);
    }
  });

  test("Microsoft's in wave files: bit by bit as another program decodes it, and coded as well as that does", () => {
    ffmpeg(...SOUND, '-ac', String(channels), '-c:a', 'adpcm_ms', at('m.wav'));
    ffmpeg(...SOUND, '-ac', String(channels), '-c:a', 'pcm_s16le', '-f', 's16le', at('plain.raw'));
    const wave = waveOf(at('m.wav'));
    const layout = { channels, block: wave.block, coefficients: MS_COEFFICIENTS };
    const theirs = samplesOf(ffmpeg('-i', at('m.wav'), '-f', 's16le', '-'), channels);
    const ours = decodeMs(wave.data, layout, theirs[0]!.length);
    for (const [c, one] of ours.entries())
      expect(Buffer.from(one.buffer).equals(Buffer.from(theirs[c]!.buffer))).toBe(true);
    const plain = samplesOf(fs.readFileSync(at('plain.raw')), channels);
    withData(at('m.wav'), encodeMs(plain, layout), at('ours.wav'));
    const heard = samplesOf(ffmpeg('-i', at('ours.wav'), '-f', 's16le', '-'), channels);
    for (const [c, one] of plain.entries())
      expect(ratio(one, heard[c]!)).toBeGreaterThan(ratio(one, theirs[c]!) - 1.5);
  });
});

describe('IMA in other layouts', () => {
  test('without heads, and by hand: each code by the recommendation', () => {
    const layout = { channels: 1, block: 0, hasHead: false, isHighFirst: true, turn: 0 };
    // Codes 4, 4, 12, 0 from silence: steps of 7, then 9, 11 and 13.
    expect([...decodeIma(Uint8Array.of(0x44, 0xc0), layout)[0]!]).toEqual([7, 17, 5, 6]);
  });

  test('whatever the layout, what is coded is heard again', () => {
    const layouts = fc.record({
      channels: fc.integer({ min: 1, max: 3 }),
      hasHead: fc.boolean(),
      isHighFirst: fc.boolean(),
      turn: fc.constantFrom(0, 1, 4),
      pairs: fc.integer({ min: 1, max: 20 }),
    });
    fc.assert(
      fc.property(
        layouts,
        fc.integer({ min: 1, max: 300 }),
        ({ channels, pairs, hasHead, ...rest }, frames) => {
          const whole = rest.turn > 1 ? Math.ceil(pairs / rest.turn) * rest.turn : pairs;
          const layout = { channels, hasHead, ...rest, block: channels * ((hasHead ? 4 : 0) + whole) };
          const sound = Array.from({ length: channels }, (_, c) =>
            Int16Array.from({ length: frames }, (__, i) => 9000 * Math.sin(i / (9 + c))),
          );
          const coded = encodeIma(sound, layout);
          expect(coded.length % layout.block).toBe(0);
          const heard = decodeIma(coded, layout, frames);
          expect(heard[0]).toHaveLength(frames);
          // Blocks without heads begin from silence each time, which a few samples do not come away from.
          if (hasHead && frames > 60)
            for (const [c, one] of sound.entries()) expect(ratio(one, heard[c]!)).toBeGreaterThan(8);
        },
      ),
    );
  });
});

test('hostile blocks: cut anywhere, heads that cannot be, sizes of nothing', () => {
  const ima = { channels: 2, block: 36, hasHead: true, isHighFirst: false, turn: 4 };
  const ms = { channels: 2, block: 64, coefficients: MS_COEFFICIENTS };
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 300 }), (bytes) => {
      const [left, right] = decodeIma(bytes, ima);
      expect(left!.length).toBe(right!.length);
      try {
        expect(decodeMs(bytes, ms)[0]!.length).toBeLessThanOrEqual(bytes.length);
      } catch (error) {
        expect((error as Error).message).toMatch(/block.pair/);
      }
    }),
  );
  expect(imaSamplesIn(ima, 3)).toBe(1);
  expect(msSamplesIn(ms, 3)).toBe(0);
  expect(encodeIma([new Int16Array(0), new Int16Array(0)], ima)).toHaveLength(0);
  expect(encodeMs([new Int16Array(0), new Int16Array(0)], ms)).toHaveLength(0);
});
