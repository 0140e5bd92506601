import { FormatError } from '@/core/bytes';
import type { Pixels } from '../texture';
import type { Region } from './regions';

/** One part of a picture as a picture of its own. */
export function cutRegion(pixels: Pixels, { x, y, width, height }: Region): Pixels {
  const data = new Uint8Array(width * height * 4);
  for (let row = 0; row < height; row++) {
    const from = 4 * ((y + row) * pixels.width + x);
    data.set(pixels.data.subarray(from, from + 4 * width), 4 * row * width);
  }
  return { width, height, data };
}

/** The picture with another one in the place of a part, texel by texel; all around stays as it is. */
export function placeRegion(pixels: Pixels, region: Region, sprite: Pixels): Pixels {
  const { x, y, width, height, name } = region;
  if (sprite.width !== width || sprite.height !== height)
    throw new FormatError('does-not-fit', {
      fieldPath: name,
      expected: `${width} x ${height} texels`,
      actual: `${sprite.width} x ${sprite.height}`,
      why: 'the part would reach into its neighbours',
      remedy: 'Save it at the size that was cut out',
    });
  const data = pixels.data.slice();
  for (let row = 0; row < height; row++)
    data.set(
      sprite.data.subarray(4 * row * width, 4 * (row + 1) * width),
      4 * ((y + row) * pixels.width + x),
    );
  return { ...pixels, data };
}
