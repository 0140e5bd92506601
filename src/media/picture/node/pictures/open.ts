import { typeOfHead } from '@/core/kinds';
import {
  checkPlace,
  decodeImage,
  FIRST,
  looksLikeTga,
  readBmp,
  readDds,
  readKtx2,
  readTga,
  type Pixels,
  type Place,
  type Texture,
} from '@/media/picture/core/texture';
import { wrappedPictureOf, type MediaScripts } from '@/platform/node/media-scripts';
import { nodePrimitives } from '@/platform/node/primitives';
import { flattenedOra, flattenedPsd, refuseLarge } from './layered';
import { sharpPixels } from './with-sharp';

/** A picture whose stored images can be had: wrapped, DDS or KTX2; undefined for all others. */
export function textureOf(bytes: Uint8Array, name: string, scripts: MediaScripts): Texture | undefined {
  const wrapped = wrappedPictureOf(bytes, name, scripts);
  if (wrapped) return wrapped;
  const ending = typeOfHead(bytes)?.ending;
  if (ending === 'dds') return readDds(bytes, name);
  if (ending === 'ktx2') return readKtx2(bytes, name, nodePrimitives);
  return undefined;
}

/** Texels of a picture of any kind that is read here, as RGBA of 8 bits. Layered files come flattened. */
export async function pixelsBy(
  bytes: Uint8Array,
  name: string,
  scripts: MediaScripts,
  place: Place = FIRST,
): Promise<Pixels> {
  const texture = textureOf(bytes, name, scripts);
  if (texture) {
    refuseLarge(texture.width, texture.height, name);
    return decodeImage(texture, place);
  }
  checkPlace({ levels: 1, layers: 1, faces: 1, depth: 1 } as Texture, place);
  switch (typeOfHead(bytes)?.ending) {
    case 'bmp':
      return readBmp(bytes, name);
    case 'psd':
      return flattenedPsd(bytes, name);
    case 'ora':
      return flattenedOra(bytes, name);
    case undefined:
      break;
  }
  if (/\.(tga|vda|icb|vst)$/i.test(name) && looksLikeTga(bytes)) return readTga(bytes, name);
  return sharpPixels(bytes, name);
}
