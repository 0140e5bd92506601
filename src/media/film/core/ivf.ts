import { FormatError } from '@/core/bytes';
import type { FilmHead } from '@/media/head';

const HEAD_BYTES = 32;

/** Codecs by their sign of four letters, as the WebM project's IVF container names them. */
const CODECS: Readonly<Record<string, string>> = { VP80: 'VP8', VP90: 'VP9', AV01: 'AV1' };

export const isIvf = (bytes: Uint8Array): boolean =>
  bytes.length >= 4 && String.fromCharCode(...bytes.subarray(0, 4)) === 'DKIF';

/**
 * The head of an IVF film, little-endian: mark, version (u16), length of the head (u16), codec, width and height (u16),
 * rate and scale (u32), number of pictures (u32). Throws FormatError where it is cut off or says what cannot be.
 */
export function readIvfHead(bytes: Uint8Array): FilmHead {
  if (bytes.length < HEAD_BYTES)
    throw new FormatError('truncated', {
      byteOffset: bytes.length,
      fieldPath: 'head',
      expected: `${HEAD_BYTES} bytes`,
      actual: `${bytes.length}`,
    });
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const sign = String.fromCharCode(...bytes.subarray(8, 12));
  const [rate, scale, pictures] = [
    view.getUint32(16, true),
    view.getUint32(20, true),
    view.getUint32(24, true),
  ];
  if (rate === 0 || scale === 0)
    throw new FormatError('bad-value', {
      byteOffset: rate === 0 ? 16 : 20,
      fieldPath: rate === 0 ? 'head.rate' : 'head.scale',
      expected: 'a number above 0',
      actual: '0',
    });
  const pictureRate = rate / scale;
  return {
    sort: 'film',
    codec: CODECS[sign] ?? sign.replace(/[^\x20-\x7e]/g, '?'),
    width: view.getUint16(12, true),
    height: view.getUint16(14, true),
    pictureRate,
    seconds: pictures / pictureRate,
    sounds: 0,
  };
}
