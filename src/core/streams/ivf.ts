import { FormatError, type BytesRef } from '../bytes';
import { StreamReader } from './reader';
import type { StreamPiece } from './stream-piece';

const PICTURE_HEAD = 12;

/**
 * The pictures of an IVF film, the first with the head of the file. IVF, little-endian: a head (its length at 6, rate and scale at 16),
 * then for each picture its length (u32) and its time (u64) in units of the scale (the container of the WebM project). Throws FormatError where
 * it is no IVF, is cut short, or has a picture that comes before the one before it.
 */
export function ivfPieces(film: BytesRef): StreamPiece[] {
  const reader = new StreamReader(film);
  const head = reader.view(0, 32, 'head');
  if (head.getUint32(0) !== 0x444b4946)
    throw new FormatError('bad-value', {
      byteOffset: 0,
      fieldPath: 'head',
      expected: 'DKIF',
      actual: 'none',
    });
  const [rate, scale] = [head.getUint32(16, true), head.getUint32(20, true)];
  if (rate === 0 || scale === 0)
    throw new FormatError('bad-value', {
      ...{
        byteOffset: 16,
        fieldPath: 'head.rate',
        expected: 'pictures a second above 0',
        actual: `${rate}/${scale}`,
      },
    });
  const pieces: StreamPiece[] = [];
  let before = -1;
  for (let at = Math.max(32, head.getUint16(6, true)), from = 0; at < film.length; from = at) {
    const what = `picture ${pieces.length + 1}`;
    const own = reader.view(at, PICTURE_HEAD, what);
    const length = own.getUint32(0, true);
    const time = Number(own.getBigUint64(4, true));
    if (at + PICTURE_HEAD + length > film.length)
      throw new FormatError('truncated', {
        ...{ byteOffset: at, fieldPath: what, expected: `${length} bytes` },
        actual: `${film.length - at - PICTURE_HEAD}`,
      });
    if (time < before)
      throw new FormatError('bad-value', {
        ...{
          byteOffset: at + 4,
          fieldPath: `${what}, time`,
          expected: `${before} or later`,
          actual: `${time}`,
        },
      });
    before = time;
    at += PICTURE_HEAD + length;
    pieces.push({ length: at - from, seconds: (time * scale) / rate });
  }
  return pieces;
}
