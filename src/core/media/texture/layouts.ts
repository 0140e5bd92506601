import { FormatError } from '../../bytes';
import { Registry } from '../../registry';
import { decodeAlpha, encodeAlpha } from './block-alpha';
import { encodeColour, palette } from './block-colour';
import type { Pixels } from './pixels';

/** One way to keep texels in bytes. */
export interface PixelLayout {
  readonly name: string;
  /** As people call it. */
  readonly title: string;
  readonly alpha: 'none' | 'one bit' | 'full';
  /** Bytes that a level of this size takes. */
  levelLength(width: number, height: number): number;
  /** Throws FormatError `truncated` when there are too few bytes. */
  decode(bytes: Uint8Array, width: number, height: number): Pixels;
  encode(pixels: Pixels): Uint8Array;
}

const blocks = (length: number): number => Math.ceil(length / 4);

function blockLayout(
  name: string,
  alpha: PixelLayout['alpha'],
  blockBytes: number,
  decodeBlock: (view: DataView, at: number, texels: Uint8Array) => void,
  encodeBlock: (texels: Uint8Array, view: DataView, at: number) => void,
): PixelLayout {
  const levelLength = (width: number, height: number): number => blocks(width) * blocks(height) * blockBytes;
  return {
    name,
    title: name.toUpperCase(),
    alpha,
    levelLength,
    decode(bytes, width, height) {
      requireLength(name, bytes, levelLength(width, height));
      const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
      const data = new Uint8Array(width * height * 4);
      const texels = new Uint8Array(64);
      eachBlock(width, height, (bx, by, n) => {
        decodeBlock(view, n * blockBytes, texels);
        for (let y = 0; y < Math.min(4, height - by); y++) {
          const across = Math.min(4, width - bx) * 4;
          data.set(texels.subarray(16 * y, 16 * y + across), 4 * ((by + y) * width + bx));
        }
      });
      return { width, height, data };
    },
    encode({ width, height, data }) {
      const out = new Uint8Array(levelLength(width, height));
      const view = new DataView(out.buffer);
      const texels = new Uint8Array(64);
      eachBlock(width, height, (bx, by, n) => {
        for (let i = 0; i < 16; i++) {
          const x = Math.min(width - 1, bx + (i & 3));
          const y = Math.min(height - 1, by + (i >> 2));
          const from = 4 * (y * width + x);
          texels.set(data.subarray(from, from + 4), 4 * i);
        }
        encodeBlock(texels, view, n * blockBytes);
      });
      return out;
    },
  };
}

function eachBlock(width: number, height: number, work: (x: number, y: number, n: number) => void): void {
  let n = 0;
  for (let y = 0; y < height; y += 4) for (let x = 0; x < width; x += 4) work(x, y, n++);
}

function requireLength(name: string, bytes: Uint8Array, wanted: number): void {
  if (bytes.length < wanted)
    throw new FormatError('truncated', { expected: `${wanted} bytes of ${name}`, actual: `${bytes.length}` });
}

const COLOURS = new Uint8Array(16);

function decodeColour(view: DataView, at: number, texels: Uint8Array, fourOnly: boolean): void {
  palette(view.getUint16(at, true), view.getUint16(at + 2, true), fourOnly, COLOURS);
  const picks = view.getUint32(at + 4, true);
  for (let i = 0; i < 16; i++) {
    const k = 4 * ((picks >>> (2 * i)) & 3);
    texels[4 * i] = COLOURS[k]!;
    texels[4 * i + 1] = COLOURS[k + 1]!;
    texels[4 * i + 2] = COLOURS[k + 2]!;
    texels[4 * i + 3] = COLOURS[k + 3]!;
  }
}

const bc1 = blockLayout(
  'bc1',
  'one bit',
  8,
  (view, at, texels) => decodeColour(view, at, texels, false),
  (texels, view, at) => encodeColour(texels, view, at, true),
);

const bc3 = blockLayout(
  'bc3',
  'full',
  16,
  (view, at, texels) => {
    decodeColour(view, at + 8, texels, true);
    decodeAlpha(view, at, texels);
  },
  (texels, view, at) => {
    encodeAlpha(texels, view, at);
    encodeColour(texels, view, at + 8, false);
  },
);

const rgba8: PixelLayout = {
  name: 'rgba8',
  title: 'RGBA, 8 bits each',
  alpha: 'full',
  levelLength: (width, height) => width * height * 4,
  decode(bytes, width, height) {
    requireLength('rgba8', bytes, width * height * 4);
    return { width, height, data: bytes.slice(0, width * height * 4) };
  },
  encode: ({ data }) => data.slice(),
};

/** Every pixel layout that a picture script may name. */
export const layouts = new Registry<PixelLayout>('pixel layout', [rgba8, bc1, bc3]);
