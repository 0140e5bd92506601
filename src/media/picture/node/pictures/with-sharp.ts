import { FormatError } from '@/core/bytes';
import { CHANNEL_NAMES, type ChannelName, type DeepPixels, type Pixels } from '@/media/picture/core/texture';
import { sharp, type Sharp } from './sharp';

export type Channel = 'colour' | ChannelName;

/** A picture of more texels than 8192 x 8192 would take over 256 MB; it is refused before it is unpacked. */
export const MOST_TEXELS = 8192 * 8192;

/** One that takes longer is given up. */
const MOST_SECONDS = 30;

/** How many texels a picture that the package reads has, by its head alone; undefined where it reads none. */
export async function texelsOfHead(bytes: Uint8Array): Promise<number | undefined> {
  try {
    const { width = 0, height = 0 } = await sharp(bytes, { limitInputPixels: false }).metadata();
    return width * height;
  } catch {
    return undefined;
  }
}

/** Texels of what the package reads: PNG, JPEG, WebP, GIF, TIFF, AVIF. */
export async function sharpPixels(bytes: Uint8Array, name: string): Promise<Pixels> {
  try {
    const { data, info } = await sharp(bytes, { limitInputPixels: MOST_TEXELS })
      .timeout({ seconds: MOST_SECONDS })
      .ensureAlpha()
      .toColourspace('srgb')
      .raw({ depth: 'uchar' })
      .toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, data: new Uint8Array(data) };
  } catch (error) {
    throw new FormatError('not-recognised', {
      file: name,
      byteOffset: 0,
      expected: `a picture of up to ${MOST_TEXELS} texels`,
      actual: (error as Error).message,
      remedy: 'Take it as it is stored, or give a script that knows it',
    });
  }
}

export const rawSharp = ({ width, height, data }: Pixels): Sharp =>
  sharp(Buffer.from(data.buffer, data.byteOffset, data.length), { raw: { width, height, channels: 4 } });

/** One channel by its own values; the package would turn colours into grey before it takes one out. */
function greySharp({ width, height, data }: Pixels, channel: ChannelName): Sharp {
  const at = CHANNEL_NAMES.indexOf(channel);
  const grey = Buffer.alloc(width * height);
  for (let i = 0; i < grey.length; i++) grey[i] = data[4 * i + at]!;
  return sharp(grey, { raw: { width, height, channels: 1 } }).toColourspace('b-w');
}

/** A PNG of a picture, of one of its channels in grey, or scaled down to `most` texels a side. */
export async function toPng(
  pixels: Pixels,
  channel: Channel = 'colour',
  most?: number,
  withAlpha = true,
): Promise<Buffer> {
  let image = channel === 'colour' ? rawSharp(pixels) : greySharp(pixels, channel);
  if (channel === 'colour' && !withAlpha) image = image.removeAlpha();
  if (most !== undefined)
    image = image.resize({ width: most, height: most, fit: 'inside', withoutEnlargement: true });
  return image.png({ compressionLevel: 3 }).toBuffer();
}

/** A PNG of 16 bits a channel; floats are cut off at 0 and 1. */
export async function toDeepPng({ width, height, data }: DeepPixels, withAlpha: boolean): Promise<Buffer> {
  const whole =
    data instanceof Uint16Array
      ? data
      : Uint16Array.from(data, (value) => Math.round(Math.max(0, Math.min(1, value || 0)) * 65535));
  const image = sharp(whole, { raw: { width, height, channels: 4 } });
  return (withAlpha ? image : image.removeAlpha())
    .toColourspace('rgb16')
    .png({ compressionLevel: 3 })
    .toBuffer();
}

/** Texels at another size (Lanczos, three lobes). */
export async function resized(pixels: Pixels, width: number, height: number): Promise<Pixels> {
  const out = await rawSharp(pixels)
    .resize(width, height, { fit: 'fill', kernel: 'lanczos3' })
    .raw()
    .toBuffer();
  return { width, height, data: new Uint8Array(out) };
}
