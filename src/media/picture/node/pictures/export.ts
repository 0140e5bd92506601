import {
  decodeImage,
  decodeImageDeep,
  layouts,
  usesAlpha,
  writeDds,
  writeKtx2,
  writeTga,
  type DeepPixels,
  type Pixels,
  type Texture,
} from '@/media/picture/core/texture';
import { nodePrimitives } from '@/platform/node/primitives';
import { refuseLarge } from './layered';
import type { MediaScripts } from '@/platform/node/media-scripts';
import { pixelsBy, textureOf } from './open';
import { toDeepPng, toPng } from './with-sharp';

export type PictureFormat = 'png' | 'tga' | 'dds' | 'ktx2';

const ZSTD_LEVEL = 9;

/** A picture without levels as a texture of one. */
function single(pixels: Pixels): Texture {
  const { width, height, data } = pixels;
  return {
    container: 'picture',
    width,
    height,
    depth: 1,
    levels: 1,
    layers: 1,
    faces: 1,
    layout: layouts.get('rgba8')!,
    colourSpace: 'not said',
    image: () => data,
  };
}

/** A texture whose layout other containers have too: numbered colours and sheets of frames become RGBA, whose texels are the same. */
function plainly(texture: Texture, name: string): Texture {
  const layout = layouts.get('rgba8')!;
  if (layouts.get(texture.layout.name) === texture.layout) return texture;
  refuseLarge(texture.width, texture.height, name);
  return { ...texture, layout, image: (place) => decodeImage(texture, place).data };
}

const isDeep = (pixels: Pixels | DeepPixels): pixels is DeepPixels => !(pixels.data instanceof Uint8Array);

/**
 * A picture in another container. DDS and KTX2 take all images as they are stored, nothing is coded anew; PNG has the
 * largest level in 8 or 16 bits, with alpha only where there is some; TGA the same in 8 bits. Colour under zero alpha
 * is kept.
 */
export async function exportPicture(
  bytes: Uint8Array,
  name: string,
  scripts: MediaScripts,
  format: PictureFormat,
): Promise<Uint8Array> {
  const texture = textureOf(bytes, name, scripts);
  const whole = async (): Promise<Texture> =>
    texture ? plainly(texture, name) : single(await pixelsBy(bytes, name, scripts));
  if (format === 'dds') return writeDds(await whole());
  if (format === 'ktx2') return writeKtx2(await whole(), (plain) => nodePrimitives.zstd(plain, ZSTD_LEVEL));
  if (texture) refuseLarge(texture.width, texture.height, name);
  if (texture && format === 'png') {
    const pixels = decodeImageDeep(texture);
    if (isDeep(pixels)) return toDeepPng(pixels, texture.layout.alpha !== 'none');
    return toPng(pixels, 'colour', undefined, keepsAlpha(texture, pixels));
  }
  const pixels = texture ? decodeImage(texture) : await pixelsBy(bytes, name, scripts);
  const withAlpha = texture ? keepsAlpha(texture, pixels) : usesAlpha(pixels);
  return format === 'tga' ? writeTga(pixels, withAlpha) : toPng(pixels, 'colour', undefined, withAlpha);
}

/** One bit of alpha is only kept where a texel uses it. */
const keepsAlpha = ({ layout }: Texture, pixels: Pixels): boolean =>
  layout.alpha === 'full' || (layout.alpha === 'one bit' && usesAlpha(pixels));
