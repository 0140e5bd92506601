/**
 * The packing of the harbour game: flag bytes whose highest bit comes first and is set for a match; a match
 * is two bytes, highest first, thirteen bits of distance less one and three of length less three.
 */
const REACH = 8192;
const SHORTEST = 3;
const LONGEST = 10;

export function packStore(plain: Buffer): Buffer {
  const out: number[] = [];
  const seen = new Map<number, number[]>();
  let flagsAt = 0;
  let used = 8;
  const mark = (isMatch: boolean): void => {
    if (used === 8) {
      flagsAt = out.push(0) - 1;
      used = 0;
    }
    if (isMatch) out[flagsAt]! |= 128 >> used;
    used++;
  };
  const learn = (at: number): void => {
    if (at + SHORTEST > plain.length) return;
    const start = plain.readUIntBE(at, SHORTEST);
    const places = seen.get(start) ?? [];
    if (places.length === 0) seen.set(start, places);
    places.push(at);
  };
  for (let at = 0; at < plain.length;) {
    let length = 0;
    let from = 0;
    const places = at + SHORTEST <= plain.length ? (seen.get(plain.readUIntBE(at, SHORTEST)) ?? []) : [];
    for (let i = places.length - 1; i >= Math.max(0, places.length - 64) && length < LONGEST; i--) {
      const place = places[i]!;
      if (at - place > REACH) break;
      let same = 0;
      while (same < LONGEST && at + same < plain.length && plain[place + same] === plain[at + same]) same++;
      if (same > length) [length, from] = [same, place];
    }
    mark(length >= SHORTEST);
    if (length < SHORTEST) length = 1;
    if (length === 1) out.push(plain[at]!);
    else {
      const word = ((at - from - 1) << 3) | (length - SHORTEST);
      out.push(word >> 8, word & 255);
    }
    for (let i = 0; i < length; i++) learn(at + i);
    at += length;
  }
  return Buffer.from(out);
}
