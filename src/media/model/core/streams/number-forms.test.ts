import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FORM_WORDS, numberForm } from './number-forms';

/** Reads back what was written into eight bytes. */
function round(word: string, values: readonly number[], little = true): number[] {
  const form = numberForm(word);
  const view = new DataView(new ArrayBuffer(32));
  form.set(view, 3, little, Float64Array.from([...values, 0, 0, 0, 0].slice(0, Math.max(4, form.numbers))));
  const out = new Float64Array(4);
  form.get(view, 3, little, out);
  return [...out.subarray(0, form.numbers)];
}
const bytesOf = (word: string, values: readonly number[], little = true): number[] => {
  const form = numberForm(word);
  const bytes = new Uint8Array(form.bytes);
  form.set(new DataView(bytes.buffer), 0, little, Float64Array.from([...values, 0, 0, 0].slice(0, 4)));
  return [...bytes];
};

describe('numbers are kept as their words say', () => {
  test.each([
    ['f32x2', [1, -2], [0, 0, 128, 63, 0, 0, 0, 192]],
    ['f16x2', [1, -0.5], [0x00, 0x3c, 0x00, 0xb8]],
    ['u16x3', [1, 2, 65535], [1, 0, 2, 0, 255, 255]],
    ['i8x3', [-128, 0, 127], [128, 0, 127]],
    ['unorm8x4', [0, 0.5, 1, 2], [0, 128, 255, 255]],
    ['snorm8x3', [-1, 0, 1], [129, 0, 127]],
    ['snorm16x1', [-1], [1, 128]],
    ['snorm10', [1, 0, -1, 1], [0xff, 0x01, 0x10, 0x60]],
  ])('%s', (word, values, bytes) => expect(bytesOf(word, values)).toEqual(bytes));

  test('the other byte order turns each number round', () => {
    expect(bytesOf('u16x2', [0x0102, 0x0304], false)).toEqual([1, 2, 3, 4]);
    expect(round('f32x3', [1.5, -2, 3], false)).toEqual([1.5, -2, 3]);
  });

  test('the lowest two of signed ones mean -1', () => {
    const out = new Float64Array(4);
    numberForm('snorm8x1').get(new DataView(Uint8Array.of(128).buffer), 0, true, out);
    expect(out[0]).toBe(-1);
  });

  test('what does not fit is refused, and so is a word that there is not', () => {
    expect(() => bytesOf('u8x1', [256])).toThrow(/0 to 255/);
    expect(() => bytesOf('i16x1', [-40_000])).toThrow(/-32768/);
    for (const word of ['f32x5', 'f64x1', 'unorm10x3', '', 'u8x0'])
      expect(() => numberForm(word)).toThrow(/f32x1/);
    expect(FORM_WORDS).toContain('octahedron16');
  });
});

const within = fc.double({ min: -1, max: 1, noNaN: true });

test.each(['f32x3', 'f16x3', 'snorm8x3', 'snorm16x3', 'snorm10'])('%s loses no more than it says', (word) => {
  const { step } = numberForm(word);
  fc.assert(
    fc.property(fc.tuple(within, within, within), (values) => {
      const back = round(word, values);
      values.forEach((value, i) => expect(Math.abs(back[i]! - value)).toBeLessThanOrEqual(step + 1e-7));
    }),
  );
});

const directions = fc
  .tuple(within, within, within)
  .filter((v) => Math.hypot(...v) > 0.1)
  .map((v) => v.map((n) => n / Math.hypot(...v)));

test.each([
  ['octahedron8', 0.03],
  ['octahedron16', 0.0002],
])('%s keeps directions, those of the lower half as well', (word, most) => {
  expect(round(word, [0, 0, -1])[2]).toBeCloseTo(-1, 5);
  fc.assert(
    fc.property(directions, (direction) => {
      const back = round(word, direction);
      expect(Math.hypot(...back)).toBeCloseTo(1, 5);
      expect(Math.hypot(...back.map((n, i) => n - direction[i]!))).toBeLessThan(most);
    }),
  );
});

test('turn48 keeps turns; one and its negative are the same', () => {
  fc.assert(
    fc.property(
      fc.tuple(within, within, within, within).filter((q) => Math.hypot(...q) > 0.1),
      (q) => {
        const unit = q.map((n) => n / Math.hypot(...q));
        const back = round('turn48', unit);
        expect(Math.abs(back.reduce((sum, n, i) => sum + n * unit[i]!, 0))).toBeGreaterThan(0.999_999);
      },
    ),
  );
});
