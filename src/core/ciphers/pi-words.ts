/**
 * The first 32-bit words of the fractional part of pi, by Machin's formula: pi = 16 atan(1/5) - 4 atan(1/239).
 * Worked out once, in less time than a table of four kilobytes takes to read over.
 */
export function piWords(count: number): Uint32Array {
  const guard = 64n;
  const bits = BigInt(32 * count) + guard;
  const one = 1n << bits;
  const arctan = (inverse: bigint): bigint => {
    let power = one / inverse;
    let sum = power;
    const square = inverse * inverse;
    for (let n = 3n, sign = -1n; power > 0n; n += 2n, sign = -sign) {
      power /= square;
      sum += (sign * power) / n;
    }
    return sum;
  };
  const pi = 16n * arctan(5n) - 4n * arctan(239n);
  const fraction = (pi - 3n * one) >> guard;
  const words = new Uint32Array(count);
  const digits = fraction.toString(16).padStart(8 * count, '0');
  for (let i = 0; i < count; i++) words[i] = Number.parseInt(digits.slice(8 * i, 8 * i + 8), 16);
  return words;
}
