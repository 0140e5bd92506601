import { ALIKE, isTelling, type LookHash } from './look-hash';

/** Bits set in a number of 32 bits (Hacker's Delight, 5-1). */
function bitCount(value: number): number {
  let n = value - ((value >>> 1) & 0x55555555);
  n = (n & 0x33333333) + ((n >>> 2) & 0x33333333);
  return Math.imul((n + (n >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}

/**
 * Puts pictures together that look alike: each joins the first group whose first picture it is alike. Gives the places in `looks` of
 * every group of two and more, the largest first. Looks that tell nothing but a colour, and those that are undefined, are in none.
 * `progress` is told how many have been gone through.
 */
export function groupLooks(
  looks: readonly (LookHash | undefined)[],
  progress: (done: number) => void = () => undefined,
): number[][] {
  const groups: number[][] = [];
  /** Five numbers a group: high and low bits, and the mean colour, of its first. */
  let leaders = new Int32Array(5 * 256);
  for (const [i, look] of looks.entries()) {
    if (i % 1000 === 0) progress(i);
    if (look === undefined || !isTelling(look)) continue;
    const part = (from: number, to: number): number => Number.parseInt(look.slice(from, to), 16);
    const own = [part(0, 8), part(8, 16), part(16, 18), part(18, 20), part(20, 22)].map((one) => one | 0);
    const [high = 0, low = 0, red = 0, green = 0, blue = 0] = own;
    let joined = false;
    for (let g = 0, at = 0; g < groups.length && !joined; g++, at += 5) {
      const bits = bitCount(leaders[at]! ^ high) + bitCount(leaders[at + 1]! ^ low);
      if (bits > ALIKE) continue;
      const colour =
        Math.abs(leaders[at + 2]! - red) +
        Math.abs(leaders[at + 3]! - green) +
        Math.abs(leaders[at + 4]! - blue);
      if (bits + colour / 12 > ALIKE) continue;
      groups[g]!.push(i);
      joined = true;
    }
    if (joined) continue;
    if (5 * groups.length === leaders.length) {
      const more = new Int32Array(2 * leaders.length);
      more.set(leaders);
      leaders = more;
    }
    leaders.set(own, 5 * groups.length);
    groups.push([i]);
  }
  return groups.filter(({ length }) => length > 1).sort((a, b) => b.length - a.length);
}
