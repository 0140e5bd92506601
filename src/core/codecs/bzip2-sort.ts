/**
 * The starts of all rotations of `bytes` in sorted order, by doubling what is compared: ranks of the first 2^k
 * bytes give those of the first 2^(k+1) (Manber and Myers 1993, with counting sorts).
 */
export function sortRotations(bytes: Uint8Array): Int32Array {
  const { length } = bytes;
  let order = new Int32Array(length);
  let ranks = new Int32Array(length);
  const starts = new Int32Array(Math.max(257, length + 1));
  for (const byte of bytes) starts[byte + 1]!++;
  for (let i = 0; i < 256; i++) starts[i + 1]! += starts[i]!;
  const firsts = starts.slice(0, 257);
  for (let i = 0; i < length; i++) {
    ranks[i] = firsts[bytes[i]!]!;
    order[starts[bytes[i]!]!++] = i;
  }
  let other = new Int32Array(length);
  let newRanks = new Int32Array(length);
  for (let width = 1; width < length; width *= 2) {
    // In order of the second half; the first half then keeps that order where it is equal.
    const next = new Int32Array(length);
    for (let i = 0; i < length; i++) next[i] = 0;
    for (let i = 0; i < length; i++) {
      const second = order[i]!;
      const first =
        second >= width ? second - width : second - width + length * Math.ceil((width - second) / length);
      const rank = ranks[first]!;
      other[rank + next[rank]!++] = first;
    }
    let rank = 0;
    let isSorted = true;
    for (let i = 0; i < length; i++) {
      const at = other[i]!;
      if (i > 0) {
        const before = other[i - 1]!;
        const same =
          ranks[at] === ranks[before] && ranks[(at + width) % length] === ranks[(before + width) % length];
        if (same) isSorted = false;
        else rank = i;
      }
      newRanks[at] = rank;
    }
    [order, other] = [other, order];
    [ranks, newRanks] = [newRanks, ranks];
    if (isSorted) break;
  }
  return order;
}
