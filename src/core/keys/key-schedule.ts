import type { Stretch, Visit } from './spellings';

/** The S-box of AES (FIPS 197, 5.1.1), worked out from inverses in its field. */
const SBOX = ((): Uint8Array => {
  const box = new Uint8Array(256);
  let p = 1;
  let q = 1;
  do {
    // p goes through the field times 3, q divided by 3, so that q stays the inverse of p.
    p = p ^ ((p << 1) & 255) ^ (p & 0x80 ? 0x1b : 0);
    q ^= q << 1;
    q ^= q << 2;
    q ^= q << 4;
    q &= 255;
    if (q & 0x80) q ^= 0x09;
    const rotated = (by: number): number => ((q << by) | (q >> (8 - by))) & 255;
    box[p] = q ^ rotated(1) ^ rotated(2) ^ rotated(3) ^ rotated(4) ^ 0x63;
  } while (p !== 1);
  box[0] = 0x63;
  return box;
})();

const ROUNDS = new Map([
  [16, 10],
  [24, 12],
  [32, 14],
]);

const TURNED = [false, true] as const;

/** Bytes of a whole schedule for a key of so many bytes. */
export const scheduleBytes = (keyLength: number): number => 16 * ((ROUNDS.get(keyLength) ?? 0) + 1);

/**
 * Keys that lie at the beginning of their expanded schedule (FIPS 197, 5.2), as a program keeps them once it has used them
 * or when it was built with them; words as they are defined, or turned round as on machines with the lowest byte first.
 */
export function scheduledKeys({ bytes, base, own }: Stretch, length: number, visit: Visit): boolean {
  if (!ROUNDS.has(length)) return false;
  const whole = scheduleBytes(length);
  const last = Math.min(own, bytes.length - whole + 1);
  const key = new Uint8Array(length);
  for (let at = 0; at < last; at++)
    for (const turned of TURNED) {
      // One byte tells nearly always, so no more is asked at first.
      const flip = turned ? 3 : 0;
      const before = SBOX[bytes[at + ((length - 3) ^ flip)]!]! ^ 1;
      if (bytes[at + (length ^ flip)] !== (bytes[at + flip]! ^ before)) continue;
      let from = length;
      while (from < whole && follows(bytes, at, length, from, turned)) from += 4;
      if (from < whole) continue;
      for (let i = 0; i < length; i++) key[i] = bytes[at + (turned ? i ^ 3 : i)]!;
      if (visit(key, base + at, 'key schedule')) return true;
    }
  return false;
}

/** Whether the word at `from` of the schedule follows from the two before it that make it. */
function follows(bytes: Uint8Array, at: number, length: number, from: number, turned: boolean): boolean {
  const round = from / length;
  const isFirst = Number.isInteger(round);
  const isMiddle = length === 32 && (from - 16) % 32 === 0;
  for (let i = 0; i < 4; i++) {
    const byteAt = (place: number): number => bytes[at + (turned ? place ^ 3 : place)]!;
    let before = byteAt(from - 4 + (isFirst ? (i + 1) % 4 : i));
    if (isFirst || isMiddle) before = SBOX[before]!;
    if (isFirst && i === 0) before ^= roundConstant(round);
    if (byteAt(from + i) !== (byteAt(from - length + i) ^ before)) return false;
  }
  return true;
}

function roundConstant(round: number): number {
  let value = 1;
  for (let i = 1; i < round; i++) value = ((value << 1) & 255) ^ (value & 0x80 ? 0x1b : 0);
  return value;
}
