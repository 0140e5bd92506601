import { FormatError, type BytesRef } from '../bytes';
import { StreamReader } from './reader';
import type { StreamPiece } from './stream-piece';

const PAGE_HEAD = 27;
/** Positions of Opus count so many a second, whatever it was made of (RFC 7845, section 4). */
const OPUS_RATE = 48_000;

/** Samples a second by which an Ogg stream of sound counts: what its first packet says (Vorbis I, 4.2.2; RFC 7845, section 5.1). */
function rateOf(packet: Uint8Array): number | undefined {
  const text = String.fromCharCode(...packet.subarray(0, 8));
  if (text === 'OpusHead') return OPUS_RATE;
  if (text.startsWith('\x01vorbis') && packet.length >= 16)
    return new DataView(packet.buffer, packet.byteOffset).getUint32(12, true);
  return undefined;
}

/**
 * The pages of an Ogg stream of sound (RFC 3533), each at the time at which the page before it ends. Throws FormatError where it is no Ogg, is cut
 * short, or holds what does not say how it counts.
 */
export function oggPieces(sound: BytesRef): StreamPiece[] {
  const reader = new StreamReader(sound);
  const pieces: StreamPiece[] = [];
  let rate: number | undefined;
  for (let at = 0, seconds = 0; at < sound.length;) {
    const what = `page ${pieces.length + 1}`;
    const head = reader.view(at, PAGE_HEAD, what);
    if (head.getUint32(0) !== 0x4f676753)
      throw new FormatError('bad-value', {
        byteOffset: at,
        fieldPath: what,
        expected: 'OggS',
        actual: 'none',
      });
    const position = head.getBigInt64(6, true);
    const count = head.getUint8(26);
    const laces = reader.read(at + PAGE_HEAD, count, what).slice();
    const body = laces.reduce((sum, lace) => sum + lace, 0);
    const first = reader.read(at + PAGE_HEAD + count, body, what);
    rate ??= rateOf(first);
    if (!rate)
      throw new FormatError('bad-value', {
        ...{ byteOffset: at, fieldPath: what, expected: 'Opus or Vorbis', actual: 'something else' },
        remedy: 'Convert it to Ogg Opus',
      });
    const length = PAGE_HEAD + count + body;
    pieces.push({ length, seconds });
    // A page in which no packet ends has no position.
    if (position >= 0n) seconds = Math.max(seconds, Number(position) / rate);
    at += length;
  }
  return pieces;
}
