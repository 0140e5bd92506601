import { describe, expect, test } from '@jest/globals';
import { loudnessOf } from '.';

const RATE = 8000;
const sine = (seconds: number, size: number): Float32Array =>
  Float32Array.from({ length: RATE * seconds }, (_, i) => size * Math.sin((2 * Math.PI * 400 * i) / RATE));
const joined = (...parts: Float32Array[]): Float32Array =>
  Float32Array.from(parts.flatMap((part) => [...part]));
const silence = (seconds: number): Float32Array => new Float32Array(RATE * seconds);

describe('how loud a sound is', () => {
  test('a full sine is 3 dB below a full square wave, half of it 6 more', () => {
    expect(loudnessOf([sine(1, 1)], RATE).level).toBeCloseTo(-3.01, 2);
    expect(loudnessOf([sine(1, 0.5), sine(1, 0.5)], RATE).level).toBeCloseTo(-9.03, 2);
    expect(loudnessOf([new Float32Array(RATE).fill(1)], RATE).level).toBeCloseTo(0, 5);
  });

  test('silence at the ends is told and does not count for the level', () => {
    const { level, before, behind } = loudnessOf([joined(silence(0.5), sine(1, 0.5), silence(0.25))], RATE);
    expect(before).toBeCloseTo(0.5, 2);
    expect(behind).toBeCloseTo(0.25, 2);
    // Also where a block is heard in part.
    const apart = loudnessOf([joined(silence(0.52), sine(1, 0.5), silence(0.27))], RATE);
    expect(apart.before).toBeCloseTo(0.52, 2);
    expect(apart.behind).toBeCloseTo(0.27, 2);
    expect(level).toBeCloseTo(-9.03, 2);
  });

  test('floats that are no numbers, or beyond all measure, are gone through', () => {
    const odd = joined(sine(0.5, 0.5), new Float32Array(RATE).fill(Number.NaN), sine(0.5, 0.5));
    expect(loudnessOf([odd], RATE).level).toBeCloseTo(-9.03, 2);
    expect(loudnessOf([new Float32Array(RATE).fill(Number.NaN)], RATE).level).toBe(Number.NEGATIVE_INFINITY);
    expect(loudnessOf([new Float32Array(RATE).fill(Infinity)], RATE)).toEqual({
      level: 99,
      before: 0,
      behind: 0,
    });
  });

  test('nothing is heard in silence, in noise below the gate, and where there is nothing', () => {
    for (const channel of [silence(1), sine(1, 0.0002), new Float32Array(0)])
      expect(loudnessOf([channel], RATE).level).toBe(Number.NEGATIVE_INFINITY);
    expect(loudnessOf([], RATE).level).toBe(Number.NEGATIVE_INFINITY);
  });
});
