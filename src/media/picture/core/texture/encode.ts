import { FormatError } from '@/core/bytes';
import type { Quality } from './kernel';
import type { PixelLayout } from './pixel-layout';
import { halved, type Pixels } from './pixels';
import { keepUnchanged } from './keep-blocks';
import { decodeImage, FIRST, type Place, type Texture } from './texture';

/** How levels are encoded; the server spreads large ones over its threads. */
export type EncodeImage = (
  layout: PixelLayout,
  pixels: Pixels,
  quality: Quality,
) => Uint8Array | Promise<Uint8Array>;

export const encodeHere: EncodeImage = (layout, pixels, quality) => {
  if (layout.encode) return layout.encode(pixels, quality);
  throw new FormatError('does-not-fit', {
    expected: 'a pixel layout that can be written',
    actual: layout.title,
    remedy: 'Give a file whose texels are in this layout already',
  });
};

/** Encodes the largest level and those made from it by halving, for a texture of one image. */
export async function encodeLevels(
  { layout, levels, width, height }: Texture,
  pixels: Pixels,
  quality: Quality = 'normal',
  encode: EncodeImage = encodeHere,
): Promise<Uint8Array[]> {
  if (pixels.width !== width || pixels.height !== height)
    throw new FormatError('does-not-fit', {
      expected: `${width} x ${height} texels`,
      actual: `${pixels.width} x ${pixels.height}`,
    });
  const images: Uint8Array[] = [];
  for (let level = 0, current = pixels; level < levels; level++, current = halved(current))
    images.push(await encode(layout, current, quality));
  return images;
}

/** Levels that were coded over those of an original, and how much of them was left as it was. */
export interface LevelsOver {
  readonly images: readonly Uint8Array[];
  readonly kept: number;
  readonly all: number;
}

/**
 * Encodes other texels for a texture of one image. Blocks that do not change, in any level, keep their stored bytes; a level changes
 * where what it would be made from does.
 */
export async function encodeOver(
  texture: Texture,
  pixels: Pixels,
  quality: Quality = 'normal',
  encode: EncodeImage = encodeHere,
): Promise<LevelsOver> {
  const images = [...(await encodeLevels(texture, pixels, quality, encode))];
  let [before, after] = [decodeImage(texture), pixels];
  let [kept, all] = [0, 0];
  for (const [level, stored] of images.entries()) {
    const original = { pixels: before, stored: texture.image({ ...FIRST, level }) };
    const over = keepUnchanged(texture.layout, original, { pixels: after, stored });
    images[level] = over.stored;
    kept += over.kept;
    all += over.all;
    if (level + 1 < images.length) [before, after] = [halved(before), halved(after)];
  }
  return { images, kept, all };
}

/** A texture of one image with other texels; what does not change is kept as it is stored. */
export async function replacePixels(
  texture: Texture,
  pixels: Pixels,
  quality: Quality = 'normal',
  encode: EncodeImage = encodeHere,
): Promise<Uint8Array> {
  if (!texture.rebuild || texture.layers * texture.faces * texture.depth > 1)
    throw new FormatError('does-not-fit', { expected: 'a picture of one image', actual: texture.container });
  const { images } = await encodeOver(texture, pixels, quality, encode);
  return texture.rebuild(({ level }: Place) => images[level]!);
}
