import { spelledBytes } from '../bytes';

/** How a key lies in a program. */
export type Spelling =
  'raw' | 'reversed' | 'hexadecimal' | 'wide hexadecimal' | 'base64' | 'two halves' | 'key schedule';

/** Takes a candidate and where it begins; true ends the scan. `key` is good until the call returns. */
export type Visit = (key: Uint8Array, offset: number, spelling: Spelling) => boolean;

/** A stretch of a program: `bytes` begins at `base`, and candidates begin in its first `own` bytes. */
export interface Stretch {
  readonly bytes: Uint8Array;
  readonly base: number;
  readonly own: number;
}

/** Bytes behind a stretch's own that a candidate which begins there may reach into. */
export const MARGIN = 1024;

/**
 * How many different values a key of so many bytes has at the least. Random bytes have fewer once in a thousand times;
 * code and tables of a program hardly ever have as many. The second number is for a second, patient look.
 */
export const leastDistinct = (length: number): { strict: number; patient: number } => {
  const expected = 256 * (1 - (255 / 256) ** length);
  const spread = Math.sqrt(Math.max(0.5, length - expected));
  return { strict: Math.floor(expected - 3.2 * spread), patient: Math.floor(expected - 6 * spread) };
};

/** For every place whether the `length` bytes from it on are as varied as a key. */
export class Variety {
  private readonly counts = new Uint16Array(256);
  private distinct = 0;
  private at = 0;

  constructor(
    private readonly bytes: Uint8Array,
    private readonly length: number,
  ) {
    for (let i = 0; i < Math.min(length, bytes.length); i++) this.add(bytes[i]!);
  }

  /** Different values in `[at, at + length)`; places must be asked for in rising order. */
  from(at: number): number {
    for (; this.at < at; this.at++) {
      const gone = this.bytes[this.at]!;
      if (--this.counts[gone]! === 0) this.distinct--;
      if (this.at + this.length < this.bytes.length) this.add(this.bytes[this.at + this.length]!);
    }
    return this.distinct;
  }

  private add(byte: number): void {
    if (this.counts[byte]!++ === 0) this.distinct++;
  }
}

/** More varied places than this one after the other are packed data or noise, in which a key is the last thing to expect. */
const MOST_TOGETHER = 1024;

/**
 * Places whose bytes have from `least` to `most` different values: as they lie, and from last to first. Those that stand
 * `alone`, a few together, or those in long `crowds` of them. Of texts, only such as are a word of just that length.
 */
export function rawKeys(
  { bytes, base, own }: Stretch,
  length: number,
  { least, most, where }: { least: number; most: number; where: 'alone' | 'crowds' },
  visit: Visit,
): boolean {
  const variety = new Variety(bytes, length);
  const reversed = new Uint8Array(length);
  const last = Math.min(own, bytes.length - length + 1);
  /** Where the varied places began that were gone through last, and where a text ends. */
  let begun = -1;
  let printed = 0;
  for (let at = 0; at < last + MOST_TOGETHER; at++) {
    const distinct = at < last ? variety.from(at) : 0;
    const isOne = distinct >= least && distinct <= most;
    if (isOne && begun < 0) begun = at;
    if (isOne || begun < 0) {
      if (at >= last) break;
      continue;
    }
    if (at - begun <= MOST_TOGETHER === (where === 'alone'))
      for (let place = begun; place < at; place++) {
        if (printed < place) printed = place;
        while (printed < bytes.length && isPrintable(bytes[printed]!)) printed++;
        const isText = printed - place >= length;
        if (isText && !isWord(bytes, place, length)) continue;
        const key = bytes.subarray(place, place + length);
        if (visit(key, base + place, 'raw')) return true;
        for (let i = 0; i < length; i++) reversed[i] = key[length - 1 - i]!;
        if (visit(reversed, base + place, 'reversed')) return true;
      }
    begun = -1;
  }
  return false;
}

const isPrintable = (byte: number): boolean => byte >= 0x20 && byte < 0x7f;

/** Whether a text of just this length stands here, such as a password. */
const isWord = (bytes: Uint8Array, at: number, length: number): boolean =>
  !isPrintable(bytes[at - 1] ?? 0) && !isPrintable(bytes[at + length] ?? 0);

/** How far the halves of a key lie apart at the most, and to what they are aligned. */
const HALVES_WITHIN = 128;
const HALF_UNIT = 4;
/** More varied halves than this so near each other are a table of noise, not two halves of a key. */
const MOST_HALVES = 12;

/** Two halves of a key near each other but not side by side, in either order. */
export function halvedKeys({ bytes, base, own }: Stretch, length: number, visit: Visit): boolean {
  const half = length / 2;
  if (!Number.isInteger(half)) return false;
  const variety = new Variety(bytes, half);
  const { strict } = leastDistinct(half);
  const key = new Uint8Array(length);
  let near: number[] = [];
  const end = Math.min(own + HALVES_WITHIN, bytes.length - half + 1);
  for (let at = (HALF_UNIT - (base % HALF_UNIT)) % HALF_UNIT; at < end; at += HALF_UNIT) {
    if (variety.from(at) < strict) continue;
    near = near.filter((other) => other >= at - HALVES_WITHIN);
    near.push(at);
    if (near.length > MOST_HALVES) continue;
    for (const other of near) {
      // Side by side they are a key as it lies; begun in what follows they are found there.
      if (other + half >= at || other >= own) continue;
      for (const [first, second] of [
        [other, at],
        [at, other],
      ] as const) {
        key.set(bytes.subarray(first, first + half));
        key.set(bytes.subarray(second, second + half), half);
        if (visit(key, base + other, 'two halves')) return true;
      }
    }
  }
  return false;
}

const isHexDigit = (byte: number): boolean =>
  (byte >= 48 && byte <= 57) || (byte >= 65 && byte <= 70) || (byte >= 97 && byte <= 102);

const digitOf = (byte: number): number => (byte <= 57 ? byte - 48 : (byte | 32) - 87);

/** Keys written out in hexadecimal digits of either case, a byte a sign or two. */
export function hexKeys({ bytes, base, own }: Stretch, length: number, visit: Visit): boolean {
  const key = new Uint8Array(length);
  for (const step of [1, 2] as const) {
    const signs = 2 * length;
    let run = 0;
    // From the end of the room that a candidate has to its start, so that `run` counts the digits from here on.
    for (let phase = 0; phase < step; phase++) {
      run = 0;
      const first = bytes.length - step - ((bytes.length - step - phase) % step);
      for (let at = first; at >= 0; at -= step) {
        const isDigit = isHexDigit(bytes[at]!) && (step === 1 || bytes[at + 1] === 0);
        run = isDigit ? run + 1 : 0;
        if (run < signs || at >= own) continue;
        for (let i = 0; i < length; i++)
          key[i] = (digitOf(bytes[at + 2 * i * step]!) << 4) | digitOf(bytes[at + (2 * i + 1) * step]!);
        if (visit(key, base + at, step === 1 ? 'hexadecimal' : 'wide hexadecimal')) return true;
      }
    }
  }
  return false;
}

const isBase64Sign = (byte: number): boolean =>
  (byte >= 65 && byte <= 90) || (byte >= 97 && byte <= 122) || (byte >= 47 && byte <= 57) || byte === 43;

/** Keys in base64 (RFC 4648) that are a word of their own, with or without the filling behind them. */
export function base64Keys({ bytes, base, own }: Stretch, length: number, visit: Visit): boolean {
  const signs = Math.ceil((length * 4) / 3);
  for (let at = 0; at < own; at++) {
    if (!isBase64Sign(bytes[at]!) || (at > 0 && isBase64Sign(bytes[at - 1]!))) continue;
    let end = at;
    while (end < bytes.length && isBase64Sign(bytes[end]!)) end++;
    if (end - at === signs) {
      const text = String.fromCharCode(...bytes.subarray(at, end)).padEnd(Math.ceil(signs / 4) * 4, '=');
      const key = spelledBytes(text);
      if (key?.length === length && visit(key, base + at, 'base64')) return true;
    }
    at = end;
  }
  return false;
}
