import { FormatError } from '../bytes';
import { numberSetting, wordSetting, type Settings } from '../settings';
import type { Codec } from './codec';
import { GrowingBytes } from './growing-bytes';

/**
 * LZSS (Storer and Szymanski, 1982) with everything that its many kin differ in as a setting: literals and
 * matches are told apart by bits in flag bytes, a match is a place and a length packed into 16 bits.
 */
interface Layout {
  readonly window: number;
  readonly lengthBits: number;
  readonly least: number;
  readonly most: number;
  readonly flagsLowFirst: boolean;
  readonly literalFlag: number;
  readonly isLittle: boolean;
  /** Where the length is in the word; in the middle, it parts the low byte of the place from the rest. */
  readonly lengthAt: 'high' | 'low' | 'middle';
  /** Whether the greatest length is followed by a byte that is added to it. */
  readonly hasMore: boolean;
  /** Whether a match of all zeros ends it. */
  readonly endsWithZero: boolean;
  readonly places: 'absolute' | 'distance';
  readonly start: number;
  readonly bias: number;
  readonly fill: number;
}

const WORD_BITS = 16;
/** How many earlier places are tried for a longer match. */
const MOST_TRIES = 96;

function layoutOf(settings: Settings): Layout {
  const window = numberSetting(settings, 'window');
  const least = numberSetting(settings, 'minimum');
  const lengthBits = WORD_BITS - Math.log2(window);
  const hasMore = wordSetting(settings, 'more') === 'byte';
  return {
    window,
    lengthBits,
    least,
    most: least + 2 ** lengthBits - 1 + (hasMore ? 255 : 0),
    flagsLowFirst: wordSetting(settings, 'flags') === 'lowest',
    literalFlag: wordSetting(settings, 'literal') === 'one' ? 1 : 0,
    isLittle: wordSetting(settings, 'order') === 'little',
    lengthAt: wordSetting(settings, 'length') as Layout['lengthAt'],
    hasMore,
    endsWithZero: wordSetting(settings, 'end') === 'zero',
    places: wordSetting(settings, 'places') === 'absolute' ? 'absolute' : 'distance',
    start: numberSetting(settings, 'start'),
    bias: numberSetting(settings, 'bias'),
    fill: numberSetting(settings, 'fill'),
  };
}

export const lzss: Codec = {
  name: 'lzss',
  about: 'LZSS with flag bytes and matches of 16 bits',
  // Two bytes and an eighth for the longest match.
  mostExpansion: 9000,
  settings: {
    window: { about: 'bytes that matches may reach back, a power of two from 256 to 32768', default: 4096 },
    minimum: { about: 'the shortest match', default: 3 },
    flags: { about: 'which bit of a flag byte comes first', default: 'lowest', words: ['lowest', 'highest'] },
    literal: { about: 'the flag of a literal', default: 'one', words: ['one', 'zero'] },
    order: { about: 'byte order of a match', default: 'little', words: ['little', 'big'] },
    length: {
      about: 'which bits of a match are its length; in the middle, behind the low byte of the place',
      default: 'high',
      words: ['high', 'low', 'middle'],
    },
    more: {
      about: 'what follows a match of the greatest length',
      default: 'nothing',
      words: ['nothing', 'byte'],
    },
    end: { about: 'how the end is told', default: 'size', words: ['size', 'zero'] },
    places: {
      about: 'whether a match says a place in the window or a distance',
      default: 'distance',
      words: ['distance', 'absolute'],
    },
    bias: { about: 'added to a distance as it is stored', default: 1 },
    start: { about: 'place in the window where writing begins, for absolute places', default: 0 },
    fill: { about: 'the byte that fills the window at first', default: 0 },
  },
  check(settings) {
    const { window, least, start, fill, lengthAt, lengthBits, endsWithZero, places, bias } =
      layoutOf(settings);
    const isPower = Number.isInteger(Math.log2(window));
    if (
      !isPower ||
      window < 256 ||
      window > 32768 ||
      least < 1 ||
      least > 255 ||
      start >= window ||
      fill > 255
    )
      throw new FormatError('bad-value', {
        expected:
          'a window of 256 to 32768 bytes (a power of two), a minimum of 1 to 255, a start in the window',
        actual: `window ${window}, minimum ${least}, start ${start}`,
      });
    if (lengthAt === 'middle' && lengthBits > 8)
      throw new FormatError('bad-value', {
        expected: "a window of 256 bytes or more with 'length: middle'",
        actual: `${window}`,
      });
    if (endsWithZero && (places !== 'distance' || bias !== 0))
      throw new FormatError('bad-value', {
        expected: "'places: distance' and 'bias: 0' with 'end: zero', or a real match would end it",
        actual: `places ${places}, bias ${bias}`,
      });
  },
  decode(stored, limit, _primitives, settings) {
    return decode(stored, limit, layoutOf(settings));
  },
  encode(plain, _primitives, settings) {
    return encode(plain, layoutOf(settings));
  },
};

function decode(stored: Uint8Array, limit: number, layout: Layout): Uint8Array {
  const out = new GrowingBytes(limit);
  const { window, start, least } = layout;
  const greatest = 2 ** layout.lengthBits - 1;
  let at = 0;
  let ended = false;
  while (at < stored.length && !ended) {
    const flags = stored[at++]!;
    for (let i = 0; i < 8 && at < stored.length && (out.length < limit || layout.endsWithZero); i++) {
      const flag = (flags >> (layout.flagsLowFirst ? i : 7 - i)) & 1;
      if (flag === layout.literalFlag) {
        out.push(stored[at++]!);
        continue;
      }
      if (at + 2 > stored.length) throw new RangeError('a match runs beyond the end');
      const word = layout.isLittle
        ? stored[at]! | (stored[at + 1]! << 8)
        : (stored[at]! << 8) | stored[at + 1]!;
      at += 2;
      if (layout.endsWithZero && word === 0) {
        ended = true;
        break;
      }
      const { size, place } = unpack(word, layout);
      let length = size + least;
      if (layout.hasMore && size === greatest) {
        if (at >= stored.length) throw new RangeError('a match runs beyond the end');
        length += stored[at++]!;
      }
      const distance =
        layout.places === 'distance'
          ? place + layout.bias
          : ((start + out.length - place - 1) & (window - 1)) + 1;
      if (out.length + length > limit)
        throw new RangeError(`a match runs ${out.length + length - limit} bytes beyond the end`);
      copy(out, distance, length, layout.fill);
    }
    if (out.length >= limit && !layout.endsWithZero) break;
  }
  if (at < stored.length) throw new RangeError(`${stored.length - at} bytes are left over`);
  if (layout.endsWithZero && !ended) throw new RangeError('the end mark is missing');
  return out.finish();
}

function unpack(word: number, { lengthAt, lengthBits, window }: Layout): { size: number; place: number } {
  const mask = 2 ** lengthBits - 1;
  if (lengthAt === 'low') return { size: word & mask, place: word >> lengthBits };
  if (lengthAt === 'high') return { size: word >> (WORD_BITS - lengthBits), place: word & (window - 1) };
  return { size: (word >> 8) & mask, place: (word & 255) | ((word >> (8 + lengthBits)) << 8) };
}

function pack(size: number, place: number, { lengthAt, lengthBits }: Layout): number {
  if (lengthAt === 'low') return (place << lengthBits) | size;
  if (lengthAt === 'high') return (size << (WORD_BITS - lengthBits)) | place;
  return (place & 255) | (size << 8) | ((place >> 8) << (8 + lengthBits));
}

/** A match may reach into the window as it was before anything came out. */
function copy(out: GrowingBytes, distance: number, length: number, fill: number): void {
  const before = Math.min(length, Math.max(0, distance - out.length));
  for (let i = 0; i < before; i++) out.push(fill);
  if (length > before) out.repeat(distance, length - before);
}

function encode(plain: Uint8Array, layout: Layout): Uint8Array {
  const { window, least, most, start } = layout;
  const greatest = 2 ** layout.lengthBits - 1;
  const out = new GrowingBytes(plain.length + Math.ceil(plain.length / 8) + 24, plain.length + 16);
  const search = searcher(
    plain,
    Math.min(window, window - 1 + (layout.places === 'distance' ? layout.bias : 0)),
    Math.max(3, least),
    most,
  );
  let flagsAt = -1;
  let bit = 8;
  const flag = (value: number): void => {
    if (bit === 8) {
      flagsAt = out.length;
      out.push(0);
      bit = 0;
    }
    if (value) out.bytes[flagsAt]! |= 1 << (layout.flagsLowFirst ? bit : 7 - bit);
    bit++;
  };
  const literal = (at: number): void => {
    flag(layout.literalFlag);
    out.push(plain[at]!);
  };
  const match = (word: number): void => {
    flag(1 - layout.literalFlag);
    out.push(layout.isLittle ? word & 255 : word >> 8);
    out.push(layout.isLittle ? word >> 8 : word & 255);
  };
  for (let at = 0; at < plain.length;) {
    let found = search(at);
    if (found && at + 1 < plain.length) {
      const later = search(at + 1);
      if (later && later.length > found.length + 1) found = undefined;
    }
    if (!found || found.length < least) {
      literal(at++);
      continue;
    }
    const place =
      layout.places === 'distance'
        ? found.distance - layout.bias
        : (start + at - found.distance) & (window - 1);
    const size = Math.min(greatest, found.length - least);
    match(pack(size, place, layout));
    if (layout.hasMore && size === greatest) out.push(found.length - least - size);
    at += found.length;
  }
  if (layout.endsWithZero) match(0);
  return out.finish();
}

/** Finds the longest earlier match by chains of places that begin with the same three bytes. */
function searcher(
  plain: Uint8Array,
  reach: number,
  least: number,
  most: number,
): (at: number) => { distance: number; length: number } | undefined {
  const heads = new Int32Array(1 << 15).fill(-1);
  const chain = new Int32Array(plain.length).fill(-1);
  let filled = 0;
  const hashAt = (at: number): number =>
    Math.imul(plain[at]! | (plain[at + 1]! << 8) | (plain[at + 2]! << 16), 0x9e3779b1) >>> 17;
  return (at) => {
    for (; filled < at && filled + 3 <= plain.length; filled++) {
      const hash = hashAt(filled);
      chain[filled] = heads[hash]!;
      heads[hash] = filled;
    }
    if (at + least > plain.length) return undefined;
    let other = heads[hashAt(at)]!;
    let length = 0;
    let distance = 0;
    const limit = Math.min(most, plain.length - at);
    for (
      let tries = MOST_TRIES;
      tries > 0 && other >= 0 && at - other <= reach;
      tries--, other = chain[other]!
    ) {
      if (other >= at || plain[other + length] !== plain[at + length]) continue;
      let same = 0;
      while (same < limit && plain[other + same] === plain[at + same]) same++;
      if (same <= length) continue;
      length = same;
      distance = at - other;
      if (same === limit) break;
    }
    return length >= least ? { distance, length } : undefined;
  };
}
