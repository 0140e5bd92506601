const DIGIT = 1 << 16;
const HALF = 2 ** 32;

/**
 * Rows in the order of whole numbers from 0 to 2^53, equal ones as they stood; NaN comes first. A radix sort by digits of 16
 * bits (Knuth, The Art of Computer Programming, 5.2.5), which leaves out digits that all rows have in common.
 */
export function orderOf(keys: Float64Array | Uint8Array | Uint16Array | Uint32Array): Uint32Array {
  const count = keys.length;
  const low = new Uint32Array(count);
  const high = new Uint32Array(count);
  let isWide = false;
  for (let i = 0; i < count; i++) {
    const key = keys[i]! >= 0 ? keys[i]! + 1 : 0;
    low[i] = key % HALF;
    if (key < HALF) continue;
    high[i] = key / HALF;
    isWide = true;
  }
  let from = Uint32Array.from({ length: count }, (_, i) => i);
  let to = new Uint32Array(count);
  const starts = new Uint32Array(DIGIT + 1);
  for (const [half, shift] of [
    [low, 0] as const,
    [low, 16] as const,
    [high, 0] as const,
    [high, 16] as const,
  ]) {
    if (half === high && !isWide) break;
    starts.fill(0);
    for (let i = 0; i < count; i++) starts[((half[i]! >>> shift) & (DIGIT - 1)) + 1]!++;
    if (count > 0 && starts[((half[0]! >>> shift) & (DIGIT - 1)) + 1] === count) continue;
    for (let i = 1; i <= DIGIT; i++) starts[i]! += starts[i - 1]!;
    for (let i = 0; i < count; i++) {
      const row = from[i]!;
      to[starts[(half[row]! >>> shift) & (DIGIT - 1)]!++] = row;
    }
    [from, to] = [to, from];
  }
  return from;
}
