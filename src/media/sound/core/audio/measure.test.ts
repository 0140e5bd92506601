import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { refOfBytes, type BytesRef } from '@/core/bytes';
import { loudnessOf } from './level';
import { measureWave } from './measure';
import { plainForm, readWave, writeWave } from './wave';

const RATE = 8000;
const wave = (channels: Float32Array[], sort: 'whole' | 'float' = 'whole', bits = 16): Uint8Array =>
  writeWave(channels, plainForm(RATE, channels.length, sort, bits));
const tone = (seconds: number, size: number): Float32Array =>
  Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => size * Math.sin(i / 5));
/** The same bytes in pieces, as they come out of what is unpacked. */
const inPieces = (bytes: Uint8Array, ...sizes: number[]): BytesRef => ({
  length: bytes.length,
  *chunks() {
    for (let at = 0, i = 0; at < bytes.length; i++) {
      const size = sizes[i % sizes.length]!;
      yield bytes.subarray(at, (at += size));
    }
  },
});

describe('a wave that streams by', () => {
  test.each([
    ['whole', 8],
    ['whole', 16],
    ['whole', 24],
    ['float', 32],
    ['float', 64],
  ] as const)('of %s numbers of %i bits is as loud as it is all at once', (sort, bits) => {
    const bytes = wave([tone(0.7, 0.5), tone(0.7, 0.1)], sort, bits);
    const { channels } = readWave(bytes);
    const measured = measureWave(refOfBytes(bytes));
    expect(measured).toMatchObject({ rate: RATE, channels: 2, isClipped: false });
    expect(measured.seconds).toBeCloseTo(0.7, 6);
    expect(measured.level).toBeCloseTo(loudnessOf(channels, RATE).level, 6);
  });

  test('is the same in pieces that end anywhere', () => {
    const bytes = wave([tone(0.3, 0.4), tone(0.3, 0.3), tone(0.3, 0.2)], 'whole', 24);
    const want = measureWave(refOfBytes(bytes));
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 5000 }), { minLength: 1, maxLength: 6 }), (sizes) => {
        expect(measureWave(inPieces(bytes, ...sizes))).toEqual(want);
      }),
      { numRuns: 30 },
    );
  });

  test('silence has no level, and what is heard counts alone', () => {
    expect(measureWave(refOfBytes(wave([new Float32Array(RATE)]))).level).toBe(-Infinity);
    const loud = tone(0.5, 0.5);
    const long = new Float32Array(4 * RATE);
    long.set(loud, RATE);
    const [alone, among] = [loud, long].map((one) => measureWave(refOfBytes(wave([one]))).level);
    expect(among).toBeCloseTo(alone!, 1);
  });

  test('one that is cut off at full scale is clipped, a peak is not', () => {
    expect(measureWave(refOfBytes(wave([tone(0.2, 3)]))).isClipped).toBe(true);
    const peak = tone(0.2, 0.3);
    peak[100] = 1;
    expect(measureWave(refOfBytes(wave([peak]))).isClipped).toBe(false);
    // Channels do not make up for one another.
    const turns = [0, 1].map((c) =>
      Float32Array.from({ length: 800 }, (_, i) => ((i >> 1) % 2 === c ? 1 : 0)),
    );
    expect(measureWave(refOfBytes(wave(turns))).isClipped).toBe(false);
  });

  test.each([0, 1, 2])('of %i samples has a length', (count) => {
    const measured = measureWave(refOfBytes(wave([new Float32Array(count).fill(0.5)])));
    expect(measured.seconds).toBe(count / RATE);
  });

  test('whose floats are no numbers is measured by the others', () => {
    const odd = tone(0.2, 0.5);
    odd[50] = Number.NaN;
    odd[60] = Number.POSITIVE_INFINITY;
    const { level } = measureWave(refOfBytes(wave([odd], 'float', 32)));
    expect(level).toBeCloseTo(measureWave(refOfBytes(wave([tone(0.2, 0.5)], 'float', 32))).level, 1);
  });

  test.each([
    ['nothing', 0],
    ['half a head', 20],
    ['no wave', -1],
  ])('%s is refused', (_what, length) => {
    const bytes = length < 0 ? new Uint8Array(100) : wave([tone(0.1, 0.5)]).subarray(0, length);
    expect(() => measureWave(refOfBytes(bytes))).toThrow(/wave|ends too early|missing/);
  });

  test('one that was written into a pipe, and does not say how long it is, is all that follows', () => {
    const bytes = wave([tone(0.3, 0.5)]);
    new DataView(bytes.buffer).setUint32(40, 0xffffffff, true);
    expect(measureWave(inPieces(bytes, 100)).seconds).toBeCloseTo(0.3, 6);
    expect(readWave(bytes).channels[0]!.length).toBe(2400);
  });
});
