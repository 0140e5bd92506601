const DIGIT = 1 << 16;

/**
 * Rows in the order of whole numbers from 0 to 2^53, equal ones as they stood; NaN comes first. A radix sort by digits of 16
 * bits (Knuth, The Art of Computer Programming, 5.2.5), which leaves out digits that all rows have in common.
 */
export function orderOf(keys: Float64Array | Uint8Array | Uint16Array): Uint32Array {
  const count = keys.length;
  let most = 0;
  for (let i = 0; i < count; i++) if (keys[i]! + 1 > most) most = keys[i]! + 1;
  let from = Uint32Array.from({ length: count }, (_, i) => i);
  let to = new Uint32Array(count);
  const starts = new Uint32Array(DIGIT + 1);
  for (let unit = 1; unit <= most; unit *= DIGIT) {
    starts.fill(0);
    for (let i = 0; i < count; i++) starts[digit(keys[i]!, unit) + 1]!++;
    if (starts.includes(count)) continue;
    for (let i = 1; i <= DIGIT; i++) starts[i]! += starts[i - 1]!;
    for (let i = 0; i < count; i++) {
      const row = from[i]!;
      to[starts[digit(keys[row]!, unit)]!++] = row;
    }
    [from, to] = [to, from];
  }
  return from;
}

const digit = (key: number, unit: number): number => (key >= 0 ? Math.floor((key + 1) / unit) % DIGIT : 0);
