import { initializeCanvas, readPsd } from 'ag-psd';
import { FormatError } from '@/core/bytes';
import type { Pixels } from '@/media/picture/core/texture';
import { unzipOne } from '@/platform/node/unzip-one';
import { MOST_TEXELS, sharpPixels } from './with-sharp';

// The package draws on no canvas here; it only wants room for texels.
initializeCanvas(
  () => {
    throw new Error('it needs a canvas');
  },
  (width, height) => ({ width, height, data: new Uint8ClampedArray(width * height * 4) }) as ImageData,
);

/** Refuses pictures that would not fit into memory once they are unpacked. */
export function refuseLarge(width: number, height: number, file: string): void {
  if (width * height > MOST_TEXELS)
    throw new FormatError('budget', {
      file,
      expected: `up to ${MOST_TEXELS} texels`,
      actual: `${width} x ${height}`,
      remedy: 'Take it as it is stored',
    });
}

/** The picture that a layered PSD file shows, as the program that saved it put its layers together. */
export function flattenedPsd(bytes: Uint8Array, name: string): Pixels {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  if (bytes.length < 26)
    throw new FormatError('truncated', {
      file: name,
      byteOffset: 0,
      expected: '26 bytes',
      actual: `${bytes.length}`,
    });
  refuseLarge(view.getUint32(18), view.getUint32(14), name);
  let image: { width: number; height: number; data: ArrayLike<number> } | undefined;
  try {
    const options = { skipLayerImageData: true, skipThumbnail: true, useImageData: true };
    image = readPsd(withoutLayers(bytes, view), options).imageData;
  } catch (error) {
    throw new FormatError('bad-value', {
      file: name,
      byteOffset: 0,
      expected: 'a layered picture that can be read',
      actual: (error as Error).message,
      remedy: 'Save it again, or as PNG',
    });
  }
  if (!image || !(image.data instanceof Uint8Array || image.data instanceof Uint8ClampedArray))
    throw new FormatError('bad-value', {
      file: name,
      expected: 'a flattened picture of 8 bits a channel beside the layers',
      actual: 'none',
      remedy: 'Save it so that other programs can read it, or as PNG',
    });
  const { width, height, data } = image;
  return { width, height, data: new Uint8Array(data.buffer, data.byteOffset, data.length).slice() };
}

/**
 * The file with its resources and layers left out, since only what they look like together is wanted (as the
 * published description of the format has it): head, colours, resources and layers each with their length, then the picture.
 */
function withoutLayers(bytes: Uint8Array, view: DataView): Uint8Array {
  const head = 26;
  const sections = [head];
  for (let i = 0; i < 3; i++) {
    const at = sections[i]!;
    if (at + 4 > bytes.length) throw new Error('it ends too early');
    sections.push(at + 4 + view.getUint32(at));
  }
  const [, colours, , picture] = sections as [number, number, number, number];
  if (picture >= bytes.length) throw new Error('it ends before its picture');
  const out = new Uint8Array(colours + 8 + bytes.length - picture);
  out.set(bytes.subarray(0, colours));
  out.set(bytes.subarray(picture), colours + 8);
  return out;
}

/** The picture that an OpenRaster file shows: `mergedimage.png`, which every such file must have (OpenRaster 0.0.5). */
export async function flattenedOra(bytes: Uint8Array, name: string): Promise<Pixels> {
  return sharpPixels(await unzipOne(bytes, 'mergedimage.png', name), `${name}, mergedimage.png`);
}
