import { FormatError, memorySource } from '@/core/bytes';
import { typeOfHead } from '@/core/kinds';
import type { Head } from '@/media/head';
import type { HeadFile } from '@/media/medium';
import type { MediaScripts } from '@/platform/node/media-scripts';
import { decodeImage, FIRST, looksLikeTga, usesAlpha, type Texture } from '../core/texture';
import { pixelsBy, sharp, textureOf } from './pictures';

/** Pictures that are read here, not by a package. */
const OWN_READERS = new Set(['dds', 'ktx2', 'bmp', 'psd', 'ora']);

/** What a picture tells of itself: its size, layout and whether it is see-through. */
export async function pictureHead(
  { source, first, name, held, describedKind }: HeadFile,
  scripts: MediaScripts,
): Promise<Head | undefined> {
  const type = typeOfHead(first);
  const isTga = /\.tga$/i.test(name) && looksLikeTga(first);
  const isWrapped =
    describedKind === 'picture' || scripts(source ?? memorySource(first, name), 'picture') !== undefined;
  if (isWrapped || isTga || OWN_READERS.has(type?.ending ?? '')) {
    const bytes = held();
    if (!bytes) return { sort: 'large' };
    try {
      const texture = textureOf(bytes, name, scripts);
      if (texture) {
        const { width, height, levels, layout } = texture;
        return { sort: 'picture', width, height, levels, layout: layout.title, alpha: alphaOf(texture) };
      }
      const pixels = await pixelsBy(bytes, name, scripts);
      const { width, height } = pixels;
      const layout = (type?.ending ?? 'tga').toUpperCase();
      return { sort: 'picture', width, height, levels: 1, layout, alpha: usesAlpha(pixels) };
    } catch (error) {
      // What only bears the tag of a picture may still be data that somebody knows.
      if (isWrapped || !(error instanceof FormatError)) throw error;
      return { sort: 'problem', message: error.message };
    }
  }
  if (type?.kind !== 'picture') return undefined;
  try {
    const {
      width = 0,
      height = 0,
      format,
    } = await sharp(held() ?? first, { limitInputPixels: false }).metadata();
    return { sort: 'picture', width, height, levels: 1, layout: (format ?? type.ending).toUpperCase() };
  } catch (error) {
    return {
      sort: 'problem',
      message: `${name}: its head cannot be read as ${type.ending}: ${(error as Error).message}`,
    };
  }
}

/** A level of so many texels a side tells well enough whether anything is see-through. */
const ALPHA_SIDE = 256;

function alphaOf(texture: Texture): boolean | undefined {
  if (texture.layout.alpha === 'none') return false;
  const { width, height, levels } = texture;
  const wanted = Math.max(0, Math.ceil(Math.log2(Math.max(width, height) / ALPHA_SIDE)));
  const level = Math.min(levels - 1, wanted);
  if (Math.max(width, height) >> level > 4 * ALPHA_SIDE) return undefined;
  return usesAlpha(decodeImage(texture, { ...FIRST, level }));
}
