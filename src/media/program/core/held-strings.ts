/** How texts of programs are written; one of wide letters has two bytes for each. */
export type HeldEncoding = 'utf-8' | 'utf-16le';

/** A text that a program keeps, ended by a zero. */
export interface HeldString {
  /** Where its first byte lies. */
  readonly offset: number;
  readonly text: string;
  readonly encoding: HeldEncoding;
  /** Bytes that a text in its place may take, without the zero that ends it. */
  readonly room: number;
}

const LEAST_LETTERS = 4;
const MOST_BYTES = 4000;
/** What goes on for longer without a blank is no text. */
const MOST_WORD = 30;
/** A short word alone is one only where it is spelled like one. */
const LONG_WORD = 12;
const WORD = /^\p{Lu}?\p{Ll}{3,}[.!?:…]*$|^\p{Lu}{4,}[.!?:…]*$/u;
/** Compilers lay texts at places that are multiples of this; what is empty up to there belongs to the text before. */
const ALIGNED = 4;
/** So many texts at equal distances are rows of a table. */
const LEAST_ROWS = 3;
const MOST_STRIDE = 4096;

const isControl = (unit: number): boolean =>
  unit === 0x7f || (unit < 0x20 && unit !== 9 && unit !== 10 && unit !== 13);

/**
 * Texts of a program that are written for people, in UTF-8 and in wide letters (UTF-16, little-endian), by their places. The room of one is what it takes with the zeros up to a multiple of four;
 * where at least three stand at equal distances, as in a table, what all of them have empty behind them.
 */
export function heldStrings(bytes: Uint8Array): HeldString[] {
  const found = [...narrow(bytes), ...wide(bytes)].sort((a, b) => a.offset - b.offset);
  return withRoomOfRows(bytes, found);
}

/** The text that lies at a place; undefined where none does. A program that was changed since has other ones. */
export function heldStringAt(
  bytes: Uint8Array,
  { offset, encoding, room }: Pick<HeldString, 'offset' | 'encoding' | 'room'>,
): HeldString | undefined {
  if (offset + room > bytes.length) return undefined;
  const step = encoding === 'utf-8' ? 1 : 2;
  let end = offset;
  while (end + step <= offset + room && (bytes[end] !== 0 || (step === 2 && bytes[end + 1] !== 0)))
    end += step;
  const text = decoded(bytes.subarray(offset, end), encoding);
  return text === undefined ? undefined : { offset, encoding, room, text };
}

/** A text that somebody would read: more letters than other signs, in words of a length that words have. */
function isForPeople(text: string): boolean {
  const words = text.split(/\s+/).filter((word) => word !== '');
  if (words.some((word) => word.length > MOST_WORD) || /[\x80-\x9f]/.test(text)) return false;
  if (words.length === 1 && words[0]!.length < LONG_WORD && !WORD.test(words[0]!)) return false;
  let letters = 0;
  for (const sign of text) if (/\p{L}/u.test(sign)) letters++;
  const signs = words.reduce((sum, word) => sum + word.length, 0);
  return letters >= LEAST_LETTERS && letters * 3 >= signs * 2 && /\p{L}{2}/u.test(text);
}

function* narrow(bytes: Uint8Array): Generator<HeldString> {
  let start = 0;
  for (let at = 0; at <= bytes.length; at++) {
    const unit = bytes[at];
    if (unit !== undefined && !isControl(unit)) continue;
    if (unit === 0 && at - start >= LEAST_LETTERS && at - start <= MOST_BYTES) {
      const held = heldFrom(bytes, start, at, 'utf-8');
      if (held) yield held;
    }
    start = at + 1;
  }
}

function* wide(bytes: Uint8Array): Generator<HeldString> {
  for (const odd of [0, 1]) {
    let start = odd;
    for (let at = odd; at + 1 < bytes.length; at += 2) {
      const unit = bytes[at]! | (bytes[at + 1]! << 8);
      // Letters of one script; pairs of narrow letters look like rare ones.
      if (unit !== 0 && !isControl(unit) && (unit < 0x600 || (unit >= 0x2010 && unit < 0x2030))) continue;
      if (unit === 0 && at - start >= 2 * LEAST_LETTERS && at - start <= MOST_BYTES) {
        const held = heldFrom(bytes, start, at, 'utf-16le');
        if (held) yield held;
      }
      start = at + 2;
    }
  }
}

/** Numbers before a text may look like letters; so many of their bytes are left out where all of it cannot be decoded. */
const MOST_BEFORE = 8;

function heldFrom(
  bytes: Uint8Array,
  from: number,
  end: number,
  encoding: HeldEncoding,
): HeldString | undefined {
  const step = encoding === 'utf-8' ? 1 : 2;
  for (let start = from; start < end && start - from <= MOST_BEFORE; start += step) {
    const text = decoded(bytes.subarray(start, end), encoding);
    if (text === undefined) continue;
    return isForPeople(text)
      ? { offset: start, text, encoding, room: roomOf(bytes, start, end, step) }
      : undefined;
  }
  return undefined;
}

function decoded(bytes: Uint8Array, encoding: HeldEncoding): string | undefined {
  try {
    return new TextDecoder(encoding, { fatal: true, ignoreBOM: true }).decode(bytes);
  } catch {
    return undefined;
  }
}

function roomOf(bytes: Uint8Array, start: number, end: number, step: number): number {
  let to = end + step;
  while (to % ALIGNED !== 0 && to + step <= bytes.length && bytes[to] === 0 && bytes[to + step - 1] === 0)
    to += step;
  return to - step - start;
}

/** Where texts stand at equal distances the room of each is what is empty behind the fullest place of them. */
function withRoomOfRows(bytes: Uint8Array, all: readonly HeldString[]): HeldString[] {
  const made = [...all];
  for (let i = 0; i + LEAST_ROWS <= made.length; i++) {
    const stride = all[i + 1]!.offset - all[i]!.offset;
    if (stride < 8 || stride > MOST_STRIDE) continue;
    let last = i + 1;
    while (
      last + 1 < all.length &&
      all[last + 1]!.offset - all[last]!.offset === stride &&
      all[last + 1]!.encoding === all[i]!.encoding
    )
      last++;
    if (last - i + 1 < LEAST_ROWS) continue;
    const step = all[i]!.encoding === 'utf-8' ? 1 : 2;
    let room = stride;
    for (let row = i; row <= last; row++) {
      const { offset } = all[row]!;
      let to = offset + all[row]!.room;
      while (to < offset + stride && bytes[to] === 0) to++;
      room = Math.min(room, to - offset);
    }
    for (let row = i; row <= last; row++)
      made[row] = { ...all[row]!, room: Math.max(all[row]!.room, room - step) };
    i = last;
  }
  return made;
}
