import { FormatError } from '@/core/bytes';
import type { Pixels } from './pixels';

export const CHANNEL_NAMES = ['red', 'green', 'blue', 'alpha'] as const;
export type ChannelName = (typeof CHANNEL_NAMES)[number];

/**
 * A picture with one channel taken from a grey map of the same size: its red, which in a grey picture is its grey. With
 * `inverted` white becomes black, as some games keep roughness for gloss.
 */
export function withChannel(pixels: Pixels, channel: ChannelName, grey: Pixels, inverted: boolean): Pixels {
  if (grey.width !== pixels.width || grey.height !== pixels.height)
    throw new FormatError('does-not-fit', {
      expected: `${pixels.width} x ${pixels.height} texels`,
      actual: `${grey.width} x ${grey.height}`,
      remedy: 'Save the map at the size of the picture',
    });
  const data = pixels.data.slice();
  const at = CHANNEL_NAMES.indexOf(channel);
  for (let i = 0; i < data.length; i += 4) data[i + at] = inverted ? 255 - grey.data[i]! : grey.data[i]!;
  return { ...pixels, data };
}

/** One channel as an opaque grey picture. */
export function channelOf({ width, height, data }: Pixels, channel: ChannelName, inverted: boolean): Pixels {
  const at = CHANNEL_NAMES.indexOf(channel);
  const out = new Uint8Array(data.length);
  for (let i = 0; i < data.length; i += 4) {
    out[i] = out[i + 1] = out[i + 2] = inverted ? 255 - data[i + at]! : data[i + at]!;
    out[i + 3] = 255;
  }
  return { width, height, data: out };
}
