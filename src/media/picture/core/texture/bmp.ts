import { FormatError } from '@/core/bytes';
import type { Pixels } from './pixels';
import { MOST_SIDE } from './texture';

/** Windows bitmaps: 1, 4, 8 bits of a palette, 16, 24, 32 bits of colour, with masks where the head has them; not run length coded. */

const MASKED = [3, 6];

/** How many bits a mask has and where they begin. */
function placeOf(mask: number): { shift: number; top: number } {
  if (mask === 0) return { shift: 0, top: 0 };
  const shift = 31 - Math.clz32(mask & -mask);
  return { shift, top: mask >>> shift };
}

/** Texels of a BMP file; throws FormatError where it is cut short or is of a kind that is not read here. */
export function readBmp(bytes: Uint8Array, file: string): Pixels {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const short = (expected: number): never => {
    throw new FormatError('truncated', {
      file,
      byteOffset: 0,
      expected: `${expected} bytes`,
      actual: `${bytes.length}`,
    });
  };
  if (bytes.length < 54) short(54);
  if (bytes[0] !== 0x42 || bytes[1] !== 0x4d)
    throw new FormatError('not-recognised', {
      file,
      byteOffset: 0,
      expected: "'BM'",
      actual: 'something else',
    });
  const start = view.getUint32(10, true);
  const headSize = view.getUint32(14, true);
  const width = view.getInt32(18, true);
  const signedHeight = view.getInt32(22, true);
  const height = Math.abs(signedHeight);
  const bits = view.getUint16(28, true);
  const method = view.getUint32(30, true);
  const wrong = (fieldPath: string, byteOffset: number, expected: string, actual: string): never => {
    throw new FormatError('bad-value', { file, fieldPath, byteOffset, expected, actual });
  };
  if (headSize < 40) wrong('head', 14, 'a head of 40 bytes or more', `${headSize}`);
  if (width < 1 || width > MOST_SIDE || height < 1 || height > MOST_SIDE)
    wrong('size', 18, `1 to ${MOST_SIDE} texels a side`, `${width} x ${signedHeight}`);
  if (![1, 4, 8, 16, 24, 32].includes(bits)) wrong('bits', 28, '1, 4, 8, 16, 24 or 32', `${bits}`);
  const isMasked = MASKED.includes(method) && bits >= 16;
  if (method !== 0 && !isMasked) wrong('method', 30, 'texels that are not coded', `method ${method}`);
  const row = Math.ceil((width * bits) / 32) * 4;
  if (start + row * height > bytes.length) short(start + row * height);
  const data = new Uint8Array(width * height * 4);
  const rowAt = (y: number): number => start + (signedHeight < 0 ? y : height - 1 - y) * row;
  if (bits <= 8) {
    const count = view.getUint32(46, true) || 1 << bits;
    const palette = 14 + headSize;
    if (palette + 4 * count > bytes.length) short(palette + 4 * count);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const bit = x * bits;
        const index = (bytes[rowAt(y) + (bit >> 3)]! >> (8 - bits - (bit & 7))) & ((1 << bits) - 1);
        if (index >= count) wrong('texels', rowAt(y) + (bit >> 3), `an index below ${count}`, `${index}`);
        const colour = palette + 4 * index;
        data.set([bytes[colour + 2]!, bytes[colour + 1]!, bytes[colour]!, 255], 4 * (y * width + x));
      }
    return { width, height, data };
  }
  // Masks lie behind the head of 40 bytes, which is where longer heads have them too.
  if (isMasked && bytes.length < 70) short(70);
  const hasAlpha = isMasked && (headSize >= 56 || method === 6);
  const usual = bits === 16 ? [0x7c00, 0x3e0, 0x1f, 0] : [0xff0000, 0xff00, 0xff, 0];
  const masks = isMasked
    ? [54, 58, 62, 66].map((at, i) => (i < 3 || hasAlpha ? view.getUint32(at, true) : 0))
    : usual;
  const places = masks.map(placeOf);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = rowAt(y) + (x * bits) / 8;
      const word =
        bits === 16
          ? view.getUint16(at, true)
          : (bytes[at]! |
              (bytes[at + 1]! << 8) |
              (bytes[at + 2]! << 16) |
              (bits === 32 ? bytes[at + 3]! << 24 : 0)) >>>
            0;
      const to = 4 * (y * width + x);
      places.forEach(({ shift, top }, c) => {
        data[to + c] = top === 0 ? (c === 3 ? 255 : 0) : Math.round((((word >>> shift) & top) * 255) / top);
      });
    }
  return { width, height, data };
}
