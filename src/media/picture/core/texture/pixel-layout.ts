import { FormatError } from '@/core/bytes';
import type { Quality } from './kernel';
import type { Pixels } from './pixels';

/** Texels of more than eight bits: whole numbers to 65535, or floats; four values a texel as in Pixels. */
export interface DeepPixels {
  readonly width: number;
  readonly height: number;
  readonly data: Uint16Array | Float32Array;
}

/** One way to keep texels in bytes. */
export interface PixelLayout {
  readonly name: string;
  /** As people call it. */
  readonly title: string;
  readonly alpha: 'none' | 'one bit' | 'full';
  /** Channels that it keeps, in the order of red, green, blue, alpha; grey is kept as `r`. */
  readonly channels: 'r' | 'rg' | 'rgb' | 'rgba' | 'a' | 'ra';
  /** How many bits a channel has: of block codecs what a decoder gives; `float` for half and whole floats. */
  readonly depth: 8 | 16 | 'float';
  /** Texels a side of what is coded together: 4 of block codecs, otherwise 1. */
  readonly block: 1 | 4;
  /** Whether encoding and decoding gives back what was given. */
  readonly isExact: boolean;
  /** Bytes that a level of this size takes. */
  levelLength(width: number, height: number): number;
  /**
   * Texels as eight bits each; deeper ones are scaled down, floats cut off at 0 and 1. Throws FormatError `truncated`
   * when there are too few bytes.
   */
  decode(bytes: Uint8Array, width: number, height: number): Pixels;
  /** Texels in full depth; only of deep layouts. */
  decodeDeep?(bytes: Uint8Array, width: number, height: number): DeepPixels;
  /** Missing where this is only read. `quality` matters to block codecs. */
  encode?(pixels: Pixels, quality?: Quality): Uint8Array;
  encodeDeep?(pixels: DeepPixels): Uint8Array;
  /** The nearest texels that it has, their error spread over those around (Floyd and Steinberg, 1976); where it has few colours. */
  dithered?(pixels: Pixels): Uint8Array;
  /** Whether `encode` is `dithered`. */
  readonly isMixing?: boolean;
}

export function requireLength(name: string, bytes: Uint8Array, wanted: number): void {
  if (bytes.length < wanted)
    throw new FormatError('truncated', { expected: `${wanted} bytes of ${name}`, actual: `${bytes.length}` });
}

/** Deep texels as eight bits each. */
export function narrowed({ width, height, data }: DeepPixels): Pixels {
  const out = new Uint8Array(data.length);
  if (data instanceof Uint16Array)
    for (let i = 0; i < data.length; i++) out[i] = (data[i]! * 255 + 32767) / 65535;
  else
    for (let i = 0; i < data.length; i++) {
      const value = data[i]!;
      out[i] = value >= 1 ? 255 : value > 0 ? value * 255 + 0.5 : 0;
    }
  return { width, height, data: out };
}

/** Texels of eight bits as deep ones of the same kind as `like`. */
export function widened({ width, height, data }: Pixels, asFloat: boolean): DeepPixels {
  const out = asFloat ? new Float32Array(data.length) : new Uint16Array(data.length);
  const scale = asFloat ? 1 / 255 : 257;
  for (let i = 0; i < data.length; i++) out[i] = data[i]! * scale;
  return { width, height, data: out };
}
