import { FormatError } from '@/core/bytes';
import { layouts } from './layouts';
import type { Pixels } from './pixels';
import { MOST_SIDE } from './texture';

/** Truevision TGA 2.0: 8 bits of grey or of a palette, 15, 16, 24 and 32 bits of colour, plain or run length coded. */

const HEAD = 18;
const RUNS = 8;
const TOP_FIRST = 0x20;
const RIGHT_FIRST = 0x10;

/** Whether bytes look like a TGA file, which has no tag at its beginning. */
export function looksLikeTga(bytes: Uint8Array): boolean {
  if (bytes.length < HEAD) return false;
  const [, mapType, sort] = bytes;
  const depth = bytes[16]!;
  const isPalette = sort === 1 || sort === 9;
  const isColour = sort === 2 || sort === 10;
  const isGrey = sort === 3 || sort === 11;
  if (mapType! > 1 || (isPalette && mapType !== 1)) return false;
  if (!isPalette && !isColour && !isGrey) return false;
  const width = bytes[12]! | (bytes[13]! << 8);
  const height = bytes[14]! | (bytes[15]! << 8);
  if (width === 0 || height === 0 || bytes[17]! & 0xc0) return false;
  return isColour ? [15, 16, 24, 32].includes(depth) : depth === 8 || (isGrey && depth === 16);
}

const layoutOfDepth = (depth: number, isGrey: boolean, alphaBits: number): string =>
  depth === 8
    ? 'r8'
    : isGrey
      ? 'ra8'
      : depth === 24
        ? 'bgr8'
        : depth === 32
          ? alphaBits > 0
            ? 'bgra8'
            : 'bgrx8'
          : alphaBits > 0
            ? 'argb1555'
            : 'xrgb1555';

/** Texels of a TGA file; throws FormatError where it is cut short or says what cannot be. */
export function readTga(bytes: Uint8Array, file: string): Pixels {
  if (!looksLikeTga(bytes))
    throw new FormatError('not-recognised', {
      file,
      byteOffset: 0,
      expected: 'the head of a TGA file',
      actual: 'something else',
    });
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const sort = bytes[2]!;
  const width = view.getUint16(12, true);
  const height = view.getUint16(14, true);
  const depth = bytes[16]!;
  const descriptor = bytes[17]!;
  if (width > MOST_SIDE || height > MOST_SIDE)
    throw new FormatError('bad-value', {
      file,
      byteOffset: 12,
      fieldPath: 'size',
      expected: `1 to ${MOST_SIDE} texels a side`,
      actual: `${width} x ${height}`,
    });
  const isPalette = (sort & 7) === 1;
  const mapFirst = view.getUint16(3, true);
  const mapCount = bytes[1] ? view.getUint16(5, true) : 0;
  const mapDepth = bytes[7]!;
  const mapBytes = mapCount * Math.ceil(mapDepth / 8);
  const mapAt = HEAD + bytes[0]!;
  const at = mapAt + mapBytes;
  const each = Math.ceil(depth / 8);
  const stored =
    sort & RUNS
      ? unrun(bytes, at, width * height, each, file)
      : bytes.subarray(at, at + width * height * each);
  if (stored.length < width * height * each)
    throw new FormatError('truncated', {
      file,
      byteOffset: at,
      fieldPath: 'texels',
      expected: `${width * height * each} bytes`,
      actual: `${stored.length}`,
    });
  let pixels: Pixels;
  if (isPalette) {
    if (![15, 16, 24, 32].includes(mapDepth) || bytes.length < at)
      throw new FormatError('bad-value', {
        file,
        byteOffset: 5,
        fieldPath: 'palette',
        expected: 'a whole palette of 15, 16, 24 or 32 bits',
        actual: `${mapCount} colours of ${mapDepth} bits`,
      });
    const palette = layouts
      .get(layoutOfDepth(mapDepth, false, mapDepth === 32 ? 8 : 0))!
      .decode(bytes.subarray(mapAt, at), mapCount, 1).data;
    const data = new Uint8Array(width * height * 4);
    for (let i = 0; i < width * height; i++) {
      const index = stored[i]! - mapFirst;
      if (index < 0 || index >= mapCount)
        throw new FormatError('bad-value', {
          file,
          byteOffset: at + i,
          fieldPath: 'texels',
          expected: `an index below ${mapFirst + mapCount}`,
          actual: `${stored[i]}`,
        });
      data.set(palette.subarray(4 * index, 4 * index + 4), 4 * i);
    }
    pixels = { width, height, data };
  } else
    pixels = layouts
      .get(layoutOfDepth(depth, (sort & 7) === 3, descriptor & 15))!
      .decode(stored, width, height);
  return turned(pixels, (descriptor & TOP_FIRST) === 0, (descriptor & RIGHT_FIRST) !== 0);
}

/** Takes runs apart: a byte of count, then one texel that repeats or so many that do not. */
function unrun(bytes: Uint8Array, from: number, count: number, each: number, file: string): Uint8Array {
  const out = new Uint8Array(count * each);
  let at = from;
  for (let done = 0; done < count;) {
    if (at >= bytes.length)
      throw new FormatError('truncated', {
        file,
        byteOffset: at,
        fieldPath: 'texels',
        expected: `${count} texels in runs`,
        actual: `${done}`,
      });
    const head = bytes[at++]!;
    const length = Math.min((head & 127) + 1, count - done);
    const isRun = head & 128;
    const wanted = isRun ? each : length * each;
    if (at + wanted > bytes.length)
      throw new FormatError('truncated', {
        file,
        byteOffset: at,
        fieldPath: 'texels',
        expected: `${wanted} bytes of a run`,
        actual: `${bytes.length - at}`,
      });
    for (let i = 0; i < length; i++)
      out.set(
        bytes.subarray(isRun ? at : at + i * each, (isRun ? at : at + i * each) + each),
        (done + i) * each,
      );
    at += wanted;
    done += length;
  }
  return out;
}

function turned(pixels: Pixels, upsideDown: boolean, mirrored: boolean): Pixels {
  const { width, height, data } = pixels;
  if (!upsideDown && !mirrored) return pixels;
  const from = new Uint32Array(data.buffer, data.byteOffset, width * height);
  const out = new Uint32Array(width * height);
  for (let y = 0; y < height; y++) {
    const row = upsideDown ? height - 1 - y : y;
    for (let x = 0; x < width; x++) out[y * width + x] = from[row * width + (mirrored ? width - 1 - x : x)]!;
  }
  return { width, height, data: new Uint8Array(out.buffer) };
}

/** Texels as a TGA file of 32 bits, or of 24 without alpha, rows from the top, not coded. */
export function writeTga(pixels: Pixels, withAlpha: boolean): Uint8Array {
  const { width, height } = pixels;
  const body = layouts.get(withAlpha ? 'bgra8' : 'bgr8')!.encode!(pixels);
  const out = new Uint8Array(HEAD + body.length);
  const view = new DataView(out.buffer);
  out[2] = 2;
  view.setUint16(12, width, true);
  view.setUint16(14, height, true);
  out[16] = withAlpha ? 32 : 24;
  out[17] = TOP_FIRST | (withAlpha ? 8 : 0);
  out.set(body, HEAD);
  return out;
}
