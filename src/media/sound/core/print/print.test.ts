import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { PRINT_BYTES, printsApart, PrintTaker, SOUNDS_ALIKE, type SoundPrint } from './print';

/** The print of a sound that is told by time, in seconds. */
function printed(of: (t: number) => number, seconds = 1, rate = 22050): SoundPrint | undefined {
  const length = Math.round(seconds * rate);
  const taker = new PrintTaker(rate, length);
  for (let i = 0; i < length; i++) taker.add(of(i / rate));
  return taker.done();
}
const turn = 2 * Math.PI;
/** A tone that slides up, and swells and dies. */
const slide =
  (from: number, size = 0.5, seconds = 1) =>
  (t: number): number =>
    size * Math.sin(Math.PI * (t / seconds)) * Math.sin(turn * (from + 300 * (t / seconds)) * t);
/** Noise that is the same each time. */
const noise = (t: number): number => ((Math.sin(t * 91_237.7) * 43_758.5453) % 1) * 0.2;

describe('the print of a sound', () => {
  const own = printed(slide(300))!;

  test('has a byte for each field, and the loudest is at the top', () => {
    expect(own).toHaveLength(PRINT_BYTES);
    expect(Math.max(...own)).toBe(90);
  });

  test.each([
    ['softer', printed(slide(300, 0.02))],
    ['at another rate', printed(slide(300), 1, 48000)],
    ['at a low rate', printed(slide(300), 1, 8000)],
    ['a little longer', printed(slide(300, 0.5, 1.1), 1.1)],
    ['with silence around it', printed((t) => (t < 0.3 || t > 1.3 ? 0 : slide(300)(t - 0.3)), 1.6)],
    ['with hiss', printed((t) => slide(300)(t) + noise(t) * 0.01)],
  ])('is much the same for the sound %s', (_how, other) =>
    expect(printsApart(own, other!)).toBeLessThan(SOUNDS_ALIKE),
  );

  test.each([
    ['higher', printed(slide(900))],
    ['backwards', printed((t) => slide(300)(1 - t))],
    ['noise', printed(noise)],
    ['one tone', printed((t) => Math.sin(turn * 440 * t))],
  ])('is another for one that is %s', (_how, other) =>
    expect(printsApart(own, other!)).toBeGreaterThan(SOUNDS_ALIKE),
  );

  test('is none of silence, of nothing, and of what is below all bands', () => {
    expect(printed(() => 0)).toBeUndefined();
    expect(printed(slide(300), 0)).toBeUndefined();
    expect(printed(slide(300), 1, 100)).toBeUndefined();
    expect(printed(() => Infinity)).toBeUndefined();
    expect(printed(() => Number.NaN)).toBeUndefined();
  });

  test('is there for a sound shorter than a frame, and for one of hours', () => {
    expect(printed(slide(300), 0.004)).toHaveLength(PRINT_BYTES);
    const long = new PrintTaker(8000, 4 * 3600 * 8000);
    for (let i = 0; i < 200_000; i++) long.add(Math.sin(i / 3));
    expect(long.done()).toHaveLength(PRINT_BYTES);
  });

  test('is apart from itself by nothing, and from any other as far as that from it', () => {
    const print = fc.uint8Array({ minLength: PRINT_BYTES, maxLength: PRINT_BYTES });
    fc.assert(
      fc.property(print, print, (a, b) => {
        expect(printsApart(a, a)).toBe(0);
        expect(printsApart(a, b)).toBe(printsApart(b, a));
      }),
    );
  });
});
