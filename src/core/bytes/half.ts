/** Half floats (IEEE 754 binary16): one bit of sign, five of exponent, ten of fraction. */

const FLOAT = new Float32Array(1);
const WORD = new Uint32Array(FLOAT.buffer);

export function fromHalf(bits: number): number {
  const sign = bits & 0x8000 ? -1 : 1;
  const exponent = (bits >> 10) & 31;
  const fraction = bits & 1023;
  if (exponent === 0) return sign * fraction * 2 ** -24;
  if (exponent === 31) return fraction ? NaN : sign * Infinity;
  return sign * (1 + fraction / 1024) * 2 ** (exponent - 15);
}

/** The nearest half float, halves to even; what is too large becomes infinite. */
export function toHalf(value: number): number {
  FLOAT[0] = value;
  const word = WORD[0]!;
  const sign = (word >>> 16) & 0x8000;
  const size = word & 0x7fffffff;
  if (size >= 0x7f800000) return sign | (size > 0x7f800000 ? 0x7e00 : 0x7c00);
  if (size >= 0x47800000) return sign | 0x7c00;
  if (size < 0x38800000) {
    // Too small for an exponent: a count of 2^-24.
    const count = Math.abs(FLOAT[0]!) * 2 ** 24;
    const whole = Math.floor(count);
    const rest = count - whole;
    return sign | (whole + (rest > 0.5 || (rest === 0.5 && whole & 1) ? 1 : 0));
  }
  const rounded = size + 0xfff + ((size >>> 13) & 1);
  return sign | ((rounded - 0x38000000) >>> 13);
}
