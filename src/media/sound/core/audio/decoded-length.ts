import { collect, sliceOf, type BytesRef } from '@/core/bytes';

/** What the head of a packed sound says of the plain one; a head can lie, so that whoever decodes counts as well. */
export interface DecodedLength {
  /** Sample frames: one number a channel. */
  readonly frames: number;
  readonly channels: number;
  /** Bits a sample as stored; undefined where the codec has none of its own. */
  readonly bits: number | undefined;
  /** Frames a second. */
  readonly rate: number;
}

const HEAD_BYTES = 256;
/** An Ogg page is at most 65,307 bytes long (RFC 3533, section 6), so that the last one begins in here. */
const TAIL_BYTES = 65_307;

/**
 * How long a FLAC (RFC 9639, STREAMINFO) or an Ogg with Vorbis or Opus (RFC 3533 and RFC 7845, the position of the last page) will be
 * once it is decoded. Undefined where its head does not say, or is none of these.
 */
export function decodedLength(plain: BytesRef): DecodedLength | undefined {
  const head = collect(sliceOf(plain, 0, Math.min(HEAD_BYTES, plain.length)));
  const text = (at: number, length: number): string => String.fromCharCode(...head.subarray(at, at + length));
  if (text(0, 4) === 'fLaC') return ofFlac(head);
  return text(0, 4) === 'OggS' ? ofOgg(plain, head, text) : undefined;
}

/** Sample frames that a FLAC or an Ogg is heard with: of Opus without those that it begins with to settle (RFC 7845, section 4.2). */
export function heardFrames(plain: BytesRef): number | undefined {
  const length = decodedLength(plain);
  if (!length) return undefined;
  const head = collect(sliceOf(plain, 0, Math.min(HEAD_BYTES, plain.length)));
  const at = 27 + (head[26] ?? 0);
  const isOpus = String.fromCharCode(...head.subarray(at, at + 8)) === 'OpusHead';
  return isOpus ? Math.max(0, length.frames - (head[at + 10]! | (head[at + 11]! << 8))) : length.frames;
}

function ofFlac(head: Uint8Array): DecodedLength | undefined {
  if (head.length < 26) return undefined;
  const view = new DataView(head.buffer, head.byteOffset, head.length);
  const rate = view.getUint32(18) >>> 12;
  const channels = ((head[20]! >> 1) & 7) + 1;
  const bits = (((head[20]! & 1) << 4) | (head[21]! >> 4)) + 1;
  const frames = (head[21]! & 15) * 2 ** 32 + view.getUint32(22);
  // Zero stands for not known.
  return frames === 0 ? undefined : { frames, channels, bits, rate };
}

function ofOgg(
  plain: BytesRef,
  head: Uint8Array,
  text: (at: number, length: number) => string,
): DecodedLength | undefined {
  // The first page has one packet, which names the codec.
  const at = 27 + (head[26] ?? 0);
  const isOpus = text(at, 8) === 'OpusHead';
  if (head.length < at + 16 || (!isOpus && text(at, 7) !== '\u0001vorbis')) return undefined;
  const view = new DataView(head.buffer, head.byteOffset, head.length);
  const channels = isOpus ? head[at + 9]! : head[at + 11]!;
  const rate = isOpus ? 48_000 : view.getUint32(at + 12, true);
  const from = Math.max(0, plain.length - TAIL_BYTES);
  const tail = collect(sliceOf(plain, from, plain.length - from));
  for (let page = tail.length - 27; page >= 0; page--) {
    if (tail[page] !== 0x4f || tail[page + 1] !== 0x67 || tail[page + 2] !== 0x67 || tail[page + 3] !== 0x53)
      continue;
    const position = new DataView(tail.buffer, tail.byteOffset + page + 6, 8).getBigUint64(0, true);
    // All bits set: no packet ends on this page.
    if (position === 0xffff_ffff_ffff_ffffn) continue;
    return { frames: Number(position), channels, bits: undefined, rate };
  }
  return undefined;
}
