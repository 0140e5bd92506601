import { equalBytes } from '../bytes';
import { hashes } from '../hashes';
import type { Primitives } from '../primitives';
import type { Codec } from './codec';
import { GrowingBytes } from './growing-bytes';
import { LzmaDecoder } from './lzma-decoder';
import { encodeLzmaPiece, lzmaMatches } from './lzma-encoder';
import { byteOf, propertiesOf } from './lzma-model';

/** The .xz file format 1.2 (tukaani.org) with the LZMA2 filter; others, as those for programs, are refused. */
const MAGIC = Uint8Array.of(0xfd, 0x37, 0x7a, 0x58, 0x5a, 0x00);
const FOOT = Uint8Array.of(0x59, 0x5a);
const LZMA2 = 0x21;
const PROPERTIES = { literalContext: 3, literalPosition: 0, position: 2 };
/** What a chunk of LZMA2 may hold at most: plain and stored. */
const MOST_PLAIN = 1 << 21;
const MOST_STORED = 1 << 16;
/** Pieces begin with this length and are halved until they fit. */
const FIRST_PIECE = 1 << 19;
/** What fits whatever the data are. */
const SAFE_PIECE = 1 << 16;
/** A dictionary of 8 MiB, and its spelling in LZMA2. */
const REACH = 1 << 23;
const DICTIONARY = 22;

/** Bytes of the check of each kind (section 2.1.1.2). */
const CHECK_SIZES = [0, 4, 4, 4, 8, 8, 8, 16, 16, 16, 32, 32, 32, 64, 64, 64];
const CHECK_NAMES: Readonly<Record<number, string>> = { 1: 'crc32', 4: 'crc64', 10: 'sha256' };

export const xz: Codec = {
  name: 'xz',
  about: 'LZMA2 in the .xz file format',
  mostExpansion: 1 << 15,
  decode(stored, limit, primitives) {
    const out = new GrowingBytes(limit);
    for (let at = 0; at < stored.length;) {
      at = readStream(stored, at, out, primitives);
      while (at < stored.length && stored[at] === 0) at++;
    }
    return out.finish();
  },
  encode(plain, primitives) {
    const out = new GrowingBytes(2 * plain.length + 4096, plain.length / 2 + 4096);
    const flags = Uint8Array.of(0, 4);
    out.append(MAGIC);
    out.append(flags);
    out.append(crc(flags, primitives));
    const sizes = plain.length > 0 ? writeBlock(plain, out, primitives) : undefined;
    const index = new GrowingBytes(64);
    index.append(Uint8Array.of(0, sizes ? 1 : 0));
    if (sizes) for (const size of sizes) variable(index, size);
    pad(index);
    out.append(index.finish());
    out.append(crc(index.finish(), primitives));
    const back = new Uint8Array(6);
    new DataView(back.buffer).setUint32(0, (index.length + 4) / 4 - 1, true);
    back.set(flags, 4);
    out.append(crc(back, primitives));
    out.append(back);
    out.append(FOOT);
    return out.finish();
  },
};

function crc(bytes: Uint8Array, primitives: Primitives): Uint8Array {
  const out = new Uint8Array(4);
  new DataView(out.buffer).setUint32(0, primitives.crc32(bytes, 0), true);
  return out;
}

const pad = (out: GrowingBytes): void => {
  while (out.length % 4 !== 0) out.push(0);
};

function variable(out: GrowingBytes, value: number): void {
  for (; value >= 0x80; value = Math.floor(value / 128)) out.push((value & 0x7f) | 0x80);
  out.push(value);
}

/** One block and its sizes for the index: without padding, and plain. */
function writeBlock(plain: Uint8Array, out: GrowingBytes, primitives: Primitives): [number, number] {
  const from = out.length;
  const head = Uint8Array.of(2, 0, LZMA2, 1, DICTIONARY, 0, 0, 0);
  out.append(head);
  out.append(crc(head, primitives));
  const finder = lzmaMatches(plain, REACH);
  let size = FIRST_PIECE;
  for (let at = 0; at < plain.length;) {
    const to = Math.min(plain.length, at + size);
    if (writeChunk(plain, at, to, finder, out)) {
      at = to;
      size = Math.min(MOST_PLAIN, 2 * size);
    } else size >>= 1;
  }
  out.push(0);
  const unpadded = out.length - from;
  while ((out.length - from) % 4 !== 0) out.push(0);
  const check = checkOf(4, plain, primitives)!;
  out.append(check);
  return [unpadded + check.length, plain.length];
}

/** A chunk whose model begins anew; false where it does not fit into one. It is stored as it is where that is shorter. */
function writeChunk(
  plain: Uint8Array,
  from: number,
  to: number,
  finder: ReturnType<typeof lzmaMatches>,
  out: GrowingBytes,
): boolean {
  const isFirst = from === 0;
  const stream = encodeLzmaPiece(plain, from, to, PROPERTIES, finder);
  const size = to - from - 1;
  if (stream.length <= size && stream.length <= MOST_STORED) {
    const stored = stream.length - 1;
    out.append(
      Uint8Array.of(
        (isFirst ? 0xe0 : 0xc0) | (size >> 16),
        size >> 8,
        size,
        stored >> 8,
        stored,
        byteOf(PROPERTIES),
      ),
    );
    out.append(stream);
    return true;
  }
  if (to - from > SAFE_PIECE) return false;
  out.append(Uint8Array.of(isFirst ? 1 : 2, size >> 8, size));
  out.append(plain.subarray(from, to));
  return true;
}

function checkOf(kind: number, plain: Uint8Array, primitives: Primitives): Uint8Array | undefined {
  const name = CHECK_NAMES[kind];
  if (!name) return undefined;
  const state = hashes.get(name)!.start(primitives);
  state.update(plain);
  const value = state.value();
  if (value instanceof Uint8Array) return value;
  const out = new Uint8Array(CHECK_SIZES[kind]!);
  for (let i = 0, left = BigInt(value); i < out.length; i++, left >>= 8n) out[i] = Number(left & 0xffn);
  return out;
}

function fail(what: string): never {
  throw new RangeError(what);
}

function readStream(stored: Uint8Array, from: number, out: GrowingBytes, primitives: Primitives): number {
  if (!equalBytes(stored.subarray(from, from + 6), MAGIC)) fail('no .xz stream');
  const flags = stored.subarray(from + 6, from + 8);
  if (stored.length < from + 12 || flags[0] !== 0) fail('the .xz head is broken');
  if (!equalBytes(stored.subarray(from + 8, from + 12), crc(flags, primitives)))
    fail('the check of the .xz head does not hold');
  if (flags[1]! > 15) fail('the .xz head has flags that are not known');
  const kind = flags[1]!;
  const blocks: BlockSizes[] = [];
  let at = from + 12;
  while (at < stored.length && stored[at] !== 0) at = readBlock(stored, at, kind, out, primitives, blocks);
  const index = at;
  at = readIndex(stored, at, blocks, primitives);
  if (at + 12 > stored.length || !equalBytes(stored.subarray(at + 10, at + 12), FOOT))
    fail('the .xz foot is missing');
  if (!equalBytes(stored.subarray(at, at + 4), crc(stored.subarray(at + 4, at + 10), primitives)))
    fail('the check of the .xz foot does not hold');
  const back = new DataView(stored.buffer, stored.byteOffset + at + 4, 4).getUint32(0, true);
  if (4 * (back + 1) !== at - index) fail('the .xz foot says another length of the index');
  if (!equalBytes(stored.subarray(at + 8, at + 10), flags)) fail('head and foot of the .xz stream differ');
  return at + 12;
}

/** What the index says of a block as well: its length without padding, and that of the plain bytes. */
interface BlockSizes {
  readonly unpadded: number;
  readonly plain: number;
}

/** A number of seven bits a byte (The .xz File Format, section 1.2). */
function readNumber(bytes: Uint8Array, from: number, what: string): { value: number; at: number } {
  let value = 0;
  for (let at = from, scale = 1; ; scale *= 128) {
    const byte = bytes[at++];
    if (byte === undefined || scale > 2 ** 56) return fail(`${what} is broken`);
    value += (byte & 0x7f) * scale;
    if (byte < 0x80) return { value, at };
  }
}

/** The index only repeats what the blocks said; one that says something else is damaged. */
function readIndex(
  stored: Uint8Array,
  from: number,
  blocks: readonly BlockSizes[],
  primitives: Primitives,
): number {
  let at = from + 1;
  const number = (): number => {
    const read = readNumber(stored, at, 'the .xz index');
    at = read.at;
    return read.value;
  };
  if (number() !== blocks.length) fail('the .xz index has another number of blocks');
  for (const { unpadded, plain } of blocks)
    if (number() !== unpadded || number() !== plain) fail('the .xz index has other sizes than the blocks');
  while ((at - from) % 4 !== 0) if (stored[at++] !== 0) fail('the .xz index is broken');
  if (!equalBytes(stored.subarray(at, at + 4), crc(stored.subarray(from, at), primitives)))
    fail('the check of the .xz index does not hold');
  return at + 4;
}

function readBlock(
  stored: Uint8Array,
  from: number,
  kind: number,
  out: GrowingBytes,
  primitives: Primitives,
  blocks: BlockSizes[],
): number {
  const size = 4 * (stored[from]! + 1);
  const head = stored.subarray(from, from + size - 4);
  if (!equalBytes(stored.subarray(from + size - 4, from + size), crc(head, primitives)))
    fail('the check of a block head does not hold');
  const flags = head[1]!;
  if (flags & 3) fail('only the LZMA2 filter alone is known, without one for programs');
  if (flags & 0x3c) fail('a block head has flags that are not known');
  let at = 2;
  const [packed, unpacked] = [0x40, 0x80].map((bit) => {
    if (!(flags & bit)) return undefined;
    const read = readNumber(head, at, 'a block head');
    at = read.at;
    return read.value;
  });
  if (head[at] !== LZMA2) fail(`filter ${head[at]} is not known`);
  const before = out.length;
  let place = readChunks(stored, from + size, out);
  const [stream, plain] = [place - from - size, out.length - before];
  if ((packed ?? stream) !== stream || (unpacked ?? plain) !== plain)
    fail('a block head says other sizes than the block has');
  const unpadded = place - from + CHECK_SIZES[kind]!;
  while ((place - from) % 4 !== 0) if (stored[place++] !== 0) fail('the padding of a block is not empty');
  const length = CHECK_SIZES[kind]!;
  const expected = checkOf(kind, out.bytes.subarray(before, out.length), primitives);
  if (expected && !equalBytes(stored.subarray(place, place + length), expected))
    fail('the check of a block does not hold');
  blocks.push({ unpadded, plain });
  return place + length;
}

function readChunks(stored: Uint8Array, from: number, out: GrowingBytes): number {
  let isReady = false;
  const decoder = new LzmaDecoder(stored, out, PROPERTIES);
  for (let at = from; ;) {
    const control = stored[at++];
    if (control === undefined) return fail('the LZMA2 data end too early');
    if (control === 0) return at;
    if (control < 0x80) {
      if (control > 2) fail(`LZMA2 has no chunk ${control}`);
      if (control === 1) decoder.forget();
      const size = ((stored[at]! << 8) | stored[at + 1]!) + 1;
      if (at + 2 + size > stored.length) fail('an LZMA2 chunk ends too early');
      out.append(stored.subarray(at + 2, at + 2 + size));
      at += 2 + size;
      continue;
    }
    const plain = (((control & 0x1f) << 16) | (stored[at]! << 8) | stored[at + 1]!) + 1;
    const length = ((stored[at + 2]! << 8) | stored[at + 3]!) + 1;
    at += 4;
    const reset = (control >> 5) & 3;
    if (reset >= 2) {
      decoder.reset(propertiesOf(stored[at++] ?? 255));
      isReady = true;
    } else if (!isReady) return fail('the first LZMA2 chunk says nothing of its properties');
    else if (reset === 1) decoder.reset();
    if (reset === 3) decoder.forget();
    if (plain > MOST_PLAIN || at + length > stored.length) fail('an LZMA2 chunk ends too early');
    out.reserve(plain);
    decoder.decode(at, at + length, out.length + plain);
    at += length;
  }
}
