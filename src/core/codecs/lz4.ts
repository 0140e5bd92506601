import { hashes } from '../hashes';
import type { Primitives } from '../primitives';
import type { Codec } from './codec';
import { GrowingBytes } from './growing-bytes';

/** LZ4 Block Format Description and LZ4 Frame Format Description 1.6.x (Collet). */
const LEAST_MATCH = 4;
/** The last match begins at least so far before the end, and the last bytes are literals. */
const LAST_MATCH = 12;
const LAST_LITERALS = 5;
const MOST_DISTANCE = 65535;
const HASH_BITS = 15;
/** How many earlier places with the same start are tried for a longer match. */
const MOST_TRIES = 64;
/** One byte of length stands for 255. */
const MOST_EXPANSION = 256;

export const lz4: Codec = {
  name: 'lz4',
  about: 'LZ4 block',
  mostExpansion: MOST_EXPANSION,
  decode(stored, limit) {
    const out = new GrowingBytes(limit, limit <= 1 << 26 ? limit : 1 << 20);
    decodeBlock(stored, out);
    return out.finish();
  },
  encode: (plain) => encodeBlock(plain),
};

function decodeBlock(stored: Uint8Array, out: GrowingBytes): void {
  let at = 0;
  const length = (first: number): number => {
    if (first !== 15) return first;
    let sum = 15;
    for (;;) {
      const byte = stored[at++];
      if (byte === undefined) throw new RangeError('a length runs beyond the end');
      sum += byte;
      if (byte !== 255) return sum;
    }
  };
  while (at < stored.length) {
    const token = stored[at++]!;
    const literals = length(token >> 4);
    if (at + literals > stored.length) throw new RangeError('literals run beyond the end');
    out.append(stored.subarray(at, at + literals));
    at += literals;
    if (at === stored.length) return;
    if (at + 2 > stored.length) throw new RangeError('a match has no distance');
    const distance = stored[at]! | (stored[at + 1]! << 8);
    at += 2;
    out.repeat(distance, length(token & 15) + LEAST_MATCH);
  }
  if (stored.length > 0) throw new RangeError('the last match has no literals behind it');
}

/** Greedy with chains of earlier places, and one byte of looking ahead. */
function encodeBlock(plain: Uint8Array): Uint8Array {
  const out = new GrowingBytes(plain.length + Math.ceil(plain.length / 255) + 32, plain.length + 32);
  const heads = new Int32Array(1 << HASH_BITS).fill(-1);
  const chain = new Int32Array(Math.min(plain.length, MOST_DISTANCE + 1));
  const mask = MOST_DISTANCE;
  const view = new DataView(plain.buffer, plain.byteOffset, plain.length);
  const hashAt = (at: number): number => Math.imul(view.getUint32(at, true), 0x9e3779b1) >>> (32 - HASH_BITS);
  const insert = (at: number): void => {
    const hash = hashAt(at);
    chain[at & mask] = heads[hash]!;
    heads[hash] = at;
  };
  const lastStart = plain.length - LAST_MATCH;
  const lastEnd = plain.length - LAST_LITERALS;
  let best = 0;
  const search = (at: number): number => {
    best = LEAST_MATCH - 1;
    let from = -1;
    const first = view.getUint32(at, true);
    let other = heads[hashAt(at)]!;
    for (let tries = MOST_TRIES; tries > 0 && other >= 0 && at - other <= MOST_DISTANCE; tries--) {
      if (view.getUint32(other, true) === first && plain[other + best] === plain[at + best]) {
        let length = LEAST_MATCH;
        while (at + length < lastEnd && plain[other + length] === plain[at + length]) length++;
        if (length > best) {
          best = length;
          from = other;
        }
      }
      const next = chain[other & mask]!;
      if (next >= other) break;
      other = next;
    }
    return from;
  };
  let anchor = 0;
  let at = 0;
  while (at <= lastStart) {
    let from = search(at);
    insert(at);
    if (from < 0) {
      at++;
      continue;
    }
    let length = best;
    while (at + 1 <= lastStart) {
      const later = search(at + 1);
      if (later < 0 || best <= length + 1) break;
      at++;
      insert(at);
      from = later;
      length = best;
    }
    sequence(out, plain.subarray(anchor, at), at - from, length);
    for (let i = at + 1; i < at + length && i <= lastStart; i++) insert(i);
    at += length;
    anchor = at;
  }
  sequence(out, plain.subarray(anchor), 0, 0);
  return out.finish();
}

function sequence(out: GrowingBytes, literals: Uint8Array, distance: number, match: number): void {
  const extra = match - LEAST_MATCH;
  out.push((Math.min(15, literals.length) << 4) | (match === 0 ? 0 : Math.min(15, extra)));
  longLength(out, literals.length);
  out.append(literals);
  if (match === 0) return;
  out.push(distance & 255);
  out.push(distance >> 8);
  longLength(out, extra);
}

function longLength(out: GrowingBytes, length: number): void {
  if (length < 15) return;
  let rest = length - 15;
  for (; rest >= 255; rest -= 255) out.push(255);
  out.push(rest);
}

const MAGIC = 0x184d2204;
const BLOCK_SIZES = [0, 0, 0, 0, 1 << 16, 1 << 18, 1 << 20, 1 << 22];
const RAW_BLOCK = 0x80000000;

export const lz4frame: Codec = {
  name: 'lz4-frame',
  about: 'LZ4 frame; checks of head, blocks and content are verified',
  mostExpansion: MOST_EXPANSION,
  decode(stored, limit, primitives) {
    const out = new GrowingBytes(limit);
    let at = 0;
    while (at < stored.length) at = decodeFrame(stored, at, out, primitives);
    return out.finish();
  },
  encode: encodeFrame,
};

const xxh32 = (bytes: Uint8Array, primitives: Primitives): number => {
  const state = hashes.get('xxh32')!.start(primitives);
  state.update(bytes);
  return Number(state.value());
};

function decodeFrame(stored: Uint8Array, start: number, out: GrowingBytes, primitives: Primitives): number {
  const view = new DataView(stored.buffer, stored.byteOffset, stored.length);
  let at = start;
  if (view.getUint32(at, true) !== MAGIC) throw new RangeError('no LZ4 frame begins here');
  const flags = view.getUint8(at + 4);
  if (flags >> 6 !== 1) throw new RangeError(`version ${flags >> 6} of the frame is not known`);
  if (flags & 1) throw new RangeError('frames with a dictionary are not supported');
  const most = BLOCK_SIZES[(view.getUint8(at + 5) >> 4) & 7]!;
  const headEnd = at + 6 + (flags & 8 ? 8 : 0);
  const check = (xxh32(stored.subarray(at + 4, headEnd), primitives) >>> 8) & 255;
  if (view.getUint8(headEnd) !== check) throw new RangeError('the check of the frame head does not hold');
  at = headEnd + 1;
  const from = out.length;
  for (;;) {
    const word = view.getUint32(at, true);
    at += 4;
    if (word === 0) break;
    const length = word & 0x7fffffff;
    if (length > most) throw new RangeError(`a block of ${length} bytes where ${most} are the most`);
    if (at + length > stored.length) throw new RangeError('a block runs beyond the end');
    const block = stored.subarray(at, at + length);
    at += length;
    if (flags & 16) {
      if (view.getUint32(at, true) !== xxh32(block, primitives))
        throw new RangeError('the check of a block does not hold');
      at += 4;
    }
    if (word >= RAW_BLOCK) out.append(block);
    else decodeBlock(block, out);
  }
  if (flags & 4) {
    if (view.getUint32(at, true) !== xxh32(out.bytes.subarray(from, out.length), primitives))
      throw new RangeError('the check of the content does not hold');
    at += 4;
  }
  return at;
}

/** Independent blocks of 4 MiB with the size and the check of the content. */
function encodeFrame(plain: Uint8Array, primitives: Primitives): Uint8Array {
  const out = new GrowingBytes(plain.length + Math.ceil(plain.length / 100) + 64, plain.length + 64);
  const word = (value: number): void => {
    for (let i = 0; i < 4; i++) out.push((value >>> (8 * i)) & 255);
  };
  word(MAGIC);
  out.push(0b0110_1100);
  out.push(0b0111_0000);
  word(plain.length >>> 0);
  word(Math.floor(plain.length / 0x1_0000_0000));
  out.push((xxh32(out.bytes.subarray(4, 14), primitives) >>> 8) & 255);
  const size = BLOCK_SIZES[7]!;
  for (let at = 0; at < plain.length; at += size) {
    const block = plain.subarray(at, at + size);
    const packed = encodeBlock(block);
    const raw = packed.length >= block.length;
    word(raw ? RAW_BLOCK + block.length : packed.length);
    out.append(raw ? block : packed);
  }
  word(0);
  word(xxh32(plain, primitives));
  return out.finish();
}
