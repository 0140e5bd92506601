import * as three from 'three';
import type { Material } from '../../core/form/form';

/** Paths of pictures that are colours, and not numbers. */
export const colourPaths = (materials: readonly Material[]): ReadonlySet<string | undefined> =>
  new Set(materials.flatMap(({ pictures }) => [pictures.colour, pictures.glow]));

/** Has a picture lie on a model as its coordinates mean it: from the top, over and over. */
export function dressTexture(
  texture: three.Texture<HTMLImageElement | ImageBitmap>,
  isColour: boolean,
): void {
  texture.flipY = false;
  texture.wrapS = texture.wrapT = three.RepeatWrapping;
  texture.anisotropy = 4;
  if (isColour) texture.colorSpace = three.SRGBColorSpace;
  texture.userData.isSeeThrough = isSeeThrough(texture.image);
}

/** Whether a picture has texels that are see-through, told from a small copy. */
function isSeeThrough(image: HTMLImageElement | ImageBitmap): boolean {
  const context = new OffscreenCanvas(32, 32).getContext('2d', { willReadFrequently: true });
  if (!context) return false;
  context.drawImage(image, 0, 0, 32, 32);
  const { data } = context.getImageData(0, 0, 32, 32);
  for (let i = 3; i < data.length; i += 4) if (data[i]! < 250) return true;
  return false;
}
