import { FormatError } from '@/core/bytes';
import type { HeldEncoding } from '@/media/program/core/held-strings';

export type { HeldEncoding };

/** A text that a program keeps. */
export interface HeldText {
  /** Where its first byte lies. */
  readonly offset: number;
  readonly text: string;
  readonly encoding: HeldEncoding;
  /** Bytes that a text in its place may take, without the zero that ends it. */
  readonly room: number;
  /** Seconds, where two numbers before it tell when it is shown. */
  readonly from: number | undefined;
  readonly to: number | undefined;
}

const MOST_HITS = 40;
const MOST_TEXT = 2000;
/** Two numbers stand before a text that has times. */
const TIMES = 8;
const MOST_STRIDE = 2048;

const encodedAs = (text: string, encoding: HeldEncoding): Uint8Array => {
  if (encoding === 'utf-8') return new TextEncoder().encode(text);
  const bytes = new Uint8Array(2 * text.length);
  const view = new DataView(bytes.buffer);
  for (let i = 0; i < text.length; i++) view.setUint16(2 * i, text.charCodeAt(i), true);
  return bytes;
};

class Program {
  private readonly view: DataView;

  constructor(
    readonly bytes: Uint8Array,
    private readonly seconds: number,
  ) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  }

  unit(at: number, encoding: HeldEncoding): number {
    if (encoding === 'utf-8') return this.bytes[at] ?? 0;
    return at + 1 < this.bytes.length ? this.view.getUint16(at, true) : 0;
  }

  isLetter(at: number, encoding: HeldEncoding): boolean {
    const unit = this.unit(at, encoding);
    return (
      at >= 0 && (unit >= 0x20 || unit === 9 || unit === 10 || unit === 13) && unit !== 0x7f && unit < 0xd800
    );
  }

  /** Where a text ends that begins here. */
  end(at: number, encoding: HeldEncoding): number {
    const step = encoding === 'utf-8' ? 1 : 2;
    let end = at;
    while (end < this.bytes.length && end - at < MOST_TEXT * step && this.isLetter(end, encoding))
      end += step;
    return end;
  }

  /** Bytes up to what lies behind the zeros that follow a text, one of which has to stay. */
  room(at: number, encoding: HeldEncoding): number {
    const step = encoding === 'utf-8' ? 1 : 2;
    let end = this.end(at, encoding);
    while (end < this.bytes.length && this.bytes[end] === 0) end++;
    return Math.max(0, end - at - step);
  }

  /** When the text that begins here is shown, by the two numbers before it: thousandths of a second, or seconds as floats. */
  times(at: number): { from: number; to: number } | undefined {
    if (at < TIMES) return undefined;
    const [a, b] = [this.view.getUint32(at - 8, true), this.view.getUint32(at - 4, true)];
    if (a < b && b <= 1000 * (this.seconds + 1)) return { from: a / 1000, to: b / 1000 };
    const [x, y] = [this.view.getFloat32(at - 8, true), this.view.getFloat32(at - 4, true)];
    const isTime = (n: number): boolean => n === 0 || (n > 0.001 && n <= this.seconds + 1);
    return x < y && isTime(x) && isTime(y) ? { from: x, to: y } : undefined;
  }

  /** Whether a text with times begins here, ended by a zero, that is shown after, or before, another one. */
  isRow(at: number, encoding: HeldEncoding, other: number, way: 1 | -1): boolean {
    if (at < TIMES || at >= this.bytes.length) return false;
    const [own, beside] = [this.times(at), this.times(other)];
    if (!own || !beside || way * (own.from - beside.from) <= 0) return false;
    // One that was silenced ends where it begins.
    const end = this.end(at, encoding);
    if (this.unit(end, encoding) !== 0) return false;
    try {
      new TextDecoder(encoding, { fatal: true }).decode(this.bytes.subarray(at, end));
      return true;
    } catch {
      return false;
    }
  }
}

/**
 * Texts that a program keeps around one of which a part is known: that one, and where it stands in a table of texts with times, one of the same width a text, all of them. In UTF-8 and in wide letters.
 * `seconds` is how long the film is that they belong to.
 */
export function textsAround(bytes: Uint8Array, wanted: string, seconds: number): HeldText[] {
  const program = new Program(bytes, seconds);
  const found = new Map<number, HeldText>();
  for (const encoding of ['utf-8', 'utf-16le'] as const) {
    const needle = encodedAs(wanted, encoding);
    if (needle.length < 3) continue;
    const step = encoding === 'utf-8' ? 1 : 2;
    for (
      let hit = indexOf(bytes, needle, 0), count = 0;
      hit >= 0 && count < MOST_HITS;
      hit = indexOf(bytes, needle, hit + 1), count++
    ) {
      const start = startOf(program, hit, encoding, step);
      if (found.has(start)) continue;
      for (const held of tableAt(program, start, encoding)) found.set(held.offset, held);
    }
  }
  return [...found.values()].sort((a, b) => a.offset - b.offset);
}

/** The table that the text at a place stands in, or that text alone; also where it was silenced. */
export const textsAt = (
  bytes: Uint8Array,
  offset: number,
  encoding: HeldEncoding,
  seconds: number,
): HeldText[] => tableAt(new Program(bytes, seconds), offset, encoding);

function tableAt(program: Program, start: number, encoding: HeldEncoding): HeldText[] {
  const { places, stride } = rowsAround(program, start, encoding);
  const room = stride === 0 ? undefined : stride - TIMES - (encoding === 'utf-8' ? 1 : 2);
  return places.map((at) => heldAt(program, at, encoding, room));
}

/** The beginning of the text that a place is in: behind the zero before it, or behind two numbers that may look like letters. */
function startOf(program: Program, hit: number, encoding: HeldEncoding, step: number): number {
  let start = hit;
  let withTimes: number | undefined;
  for (let count = 0; count < MOST_TEXT; count++) {
    if (program.times(start) && withTimes === undefined) withTimes = start;
    if (!program.isLetter(start - step, encoding)) break;
    start -= step;
  }
  return program.times(start) ? start : (withTimes ?? start);
}

/** Texts before and behind one that lie as far apart, each with its times. */
function rowsAround(
  program: Program,
  start: number,
  encoding: HeldEncoding,
): { places: number[]; stride: number } {
  if (!program.times(start)) return { places: [start], stride: 0 };
  const least = program.end(start, encoding) - start + TIMES;
  let best = { places: [start], stride: 0 };
  for (let stride = Math.ceil(Math.max(12, least) / 4) * 4; stride <= MOST_STRIDE; stride += 4) {
    const places = [start];
    for (let at = start - stride; program.isRow(at, encoding, at + stride, -1); at -= stride)
      places.unshift(at);
    for (let at = start + stride; program.isRow(at, encoding, at - stride, 1); at += stride) places.push(at);
    if (places.length > best.places.length) best = { places, stride };
  }
  return best;
}

function heldAt(
  program: Program,
  offset: number,
  encoding: HeldEncoding,
  room: number | undefined,
): HeldText {
  const end = program.end(offset, encoding);
  return {
    ...{ offset, encoding, room: room ?? program.room(offset, encoding) },
    text: new TextDecoder(encoding).decode(program.bytes.subarray(offset, end)),
    from: program.times(offset)?.from,
    to: program.times(offset)?.to,
  };
}

function indexOf(bytes: Uint8Array, needle: Uint8Array, from: number): number {
  const last = bytes.length - needle.length;
  for (
    let at = bytes.indexOf(needle[0]!, from);
    at >= 0 && at <= last;
    at = bytes.indexOf(needle[0]!, at + 1)
  ) {
    let i = 1;
    while (i < needle.length && bytes[at + i] === needle[i]) i++;
    if (i === needle.length) return at;
  }
  return -1;
}

/** A program with another text in the place of one, as long as before; an empty one silences it. Throws FormatError with how many bytes are missing where it does not fit its room. */
export function withHeldText(
  program: Uint8Array,
  { offset, room, encoding }: HeldText,
  text: string,
): Uint8Array {
  const bytes = encodedAs(text, encoding);
  if (bytes.length > room)
    throw new FormatError('bad-value', {
      ...{ byteOffset: offset, expected: `at most ${room} bytes`, actual: `${bytes.length}` },
      remedy: `It is ${bytes.length - room} bytes too long; say it shorter`,
    });
  const made = program.slice();
  made.fill(0, offset, offset + room);
  made.set(bytes, offset);
  return made;
}
