import { FormatError } from '@/core/bytes';
import type { Pixels } from './pixels';
import { checkPlace, FIRST, sizeAt, type Place, type Texture } from './texture';

/** A part of an image, in texels. */
export interface Rectangle {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Texels that are decoded at a time. */
const STRIP_TEXELS = 1 << 22;

/**
 * Decodes rows of an image a strip at a time, from `from` to before `to`, so that a picture of 16384 x 16384 never lies decoded as a
 * whole. Each strip begins at a multiple of the layout's block.
 */
export function* decodeStrips(
  texture: Texture,
  place: Place = FIRST,
  from = 0,
  to = sizeAt(texture.height, place.level),
): Generator<{ readonly y: number; readonly pixels: Pixels }> {
  checkPlace(texture, place);
  const { layout } = texture;
  const width = sizeAt(texture.width, place.level);
  const height = sizeAt(texture.height, place.level);
  const bytes = texture.image(place);
  const { block } = layout;
  const rowBytes = layout.levelLength(width, block);
  const rows = Math.max(block, Math.floor(STRIP_TEXELS / width / block) * block);
  for (let y = Math.floor(from / block) * block; y < Math.min(to, height); y += rows) {
    const count = Math.min(rows, height - y);
    const at = (y / block) * rowBytes;
    const strip = bytes.subarray(at, at + Math.ceil(count / block) * rowBytes);
    yield { y, pixels: layout.decode(strip, width, count) };
  }
}

/** The texels of a part of an image. Throws FormatError where it does not lie within it. */
export function decodeRegion(texture: Texture, place: Place, part: Rectangle): Pixels {
  const width = sizeAt(texture.width, place.level);
  const height = sizeAt(texture.height, place.level);
  const { x, y } = part;
  if (
    ![x, y].every((n) => Number.isInteger(n) && n >= 0) ||
    x + part.width > width ||
    y + part.height > height
  )
    throw new FormatError('bad-value', {
      fieldPath: 'part',
      expected: `a part of ${width} x ${height} texels`,
      actual: `${part.width} x ${part.height} at ${x}, ${y}`,
    });
  const data = new Uint8Array(part.width * part.height * 4);
  for (const { y: top, pixels } of decodeStrips(texture, place, y, y + part.height))
    for (let row = Math.max(top, y); row < Math.min(top + pixels.height, y + part.height); row++) {
      const start = 4 * ((row - top) * pixels.width + x);
      data.set(pixels.data.subarray(start, start + 4 * part.width), 4 * (row - y) * part.width);
    }
  return { width: part.width, height: part.height, data };
}

/**
 * An image made smaller by a whole number, so that it is at most so many texels a side: each texel is the mean of those it stands for,
 * colours weighed by their alpha.
 */
export function shrunk(texture: Texture, place: Place, most: number): Pixels {
  const wide = sizeAt(texture.width, place.level);
  const high = sizeAt(texture.height, place.level);
  const by = Math.max(1, Math.ceil(Math.max(wide, high) / most));
  const width = Math.ceil(wide / by);
  const height = Math.ceil(high / by);
  const data = new Uint8Array(width * height * 4);
  const sums = new Float64Array(width * 5);
  const write = (row: number): void => {
    for (let x = 0; x < width; x++) {
      const [red = 0, green = 0, blue = 0, alpha = 0, count = 0] = sums.subarray(5 * x, 5 * x + 5);
      const weight = alpha > 0 ? alpha : 1;
      data.set(
        [red / weight, green / weight, blue / weight, alpha / Math.max(1, count)],
        4 * (row * width + x),
      );
    }
    sums.fill(0);
  };
  let last = 0;
  for (const { y: top, pixels } of decodeStrips(texture, place)) {
    for (let y = 0; y < pixels.height; y++) {
      const row = Math.floor((top + y) / by);
      if (row > last) {
        write(last);
        last = row;
      }
      const from = 4 * y * wide;
      for (let x = 0; x < wide; x++) {
        const at = from + 4 * x;
        const to = 5 * Math.floor(x / by);
        const alpha = pixels.data[at + 3]!;
        sums[to]! += pixels.data[at]! * alpha;
        sums[to + 1]! += pixels.data[at + 1]! * alpha;
        sums[to + 2]! += pixels.data[at + 2]! * alpha;
        sums[to + 3]! += alpha;
        sums[to + 4]!++;
      }
    }
  }
  write(last);
  return { width, height, data };
}
