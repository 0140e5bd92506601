import { blockBytes, decodeBlocks, encodeBlocks, type BlockCodec } from './kernel';
import { fromHalf } from '@/core/bytes';
import { narrowed, requireLength, type DeepPixels, type PixelLayout } from './pixel-layout';

const blocks = (length: number): number => Math.ceil(length / 4);

type Facts = Pick<PixelLayout, 'alpha' | 'channels'> & { readonly isReadOnly?: boolean };

function blockLayout(name: string, title: string, codec: BlockCodec, facts: Facts): PixelLayout {
  const levelLength = (width: number, height: number): number =>
    blocks(width) * blocks(height) * blockBytes(codec);
  return {
    name,
    title,
    alpha: facts.alpha,
    channels: facts.channels,
    depth: 8,
    block: 4,
    isExact: false,
    levelLength,
    decode(bytes, width, height) {
      requireLength(name, bytes, levelLength(width, height));
      return { width, height, data: decodeBlocks(codec, bytes, width, height) };
    },
    ...(!facts.isReadOnly && {
      encode: ({ width, height, data }, quality) => encodeBlocks(codec, data, width, height, quality),
    }),
  };
}

/** As another layout, its words of sixteen bits highest byte first, as some machines keep them. */
function swappedLayout(layout: PixelLayout): PixelLayout {
  const { encode } = layout;
  return {
    ...layout,
    name: `${layout.name}-swapped`,
    title: `${layout.title}, words swapped`,
    decode: (bytes, width, height) => {
      requireLength(layout.name, bytes, layout.levelLength(width, height));
      return layout.decode(swapped(bytes.subarray(0, layout.levelLength(width, height))), width, height);
    },
    ...(encode && { encode: (pixels, quality) => swapped(encode(pixels, quality)) }),
  };
}

function swapped(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length);
  for (let i = 0; i + 1 < bytes.length; i += 2) {
    out[i] = bytes[i + 1]!;
    out[i + 1] = bytes[i]!;
  }
  return out;
}

/** BC6H gives half floats; it is read and not written. */
function floatLayout(name: string, title: string, codec: BlockCodec): PixelLayout {
  const levelLength = (width: number, height: number): number => blocks(width) * blocks(height) * 16;
  const decodeDeep = (bytes: Uint8Array, width: number, height: number): DeepPixels => {
    requireLength(name, bytes, levelLength(width, height));
    const halves = decodeBlocks(codec, bytes, width, height);
    const view = new DataView(halves.buffer, halves.byteOffset, halves.length);
    const data = new Float32Array(width * height * 4);
    for (let i = 0; i < data.length; i++) data[i] = fromHalf(view.getUint16(2 * i, true));
    return { width, height, data };
  };
  return {
    name,
    title,
    alpha: 'none',
    channels: 'rgb',
    depth: 'float',
    block: 4,
    isExact: false,
    levelLength,
    decode: (bytes, width, height) => narrowed(decodeDeep(bytes, width, height)),
    decodeDeep,
  };
}

const BC1 = blockLayout('bc1', 'BC1', 1, { alpha: 'one bit', channels: 'rgba' });
const BC3 = blockLayout('bc3', 'BC3', 3, { alpha: 'full', channels: 'rgba' });

export const BLOCK_LAYOUTS: readonly PixelLayout[] = [
  BC1,
  swappedLayout(BC1),
  blockLayout('bc2', 'BC2', 2, { alpha: 'full', channels: 'rgba' }),
  BC3,
  swappedLayout(BC3),
  blockLayout('bc4', 'BC4', 4, { alpha: 'none', channels: 'r' }),
  blockLayout('bc4s', 'BC4, signed', 14, { alpha: 'none', channels: 'r', isReadOnly: true }),
  blockLayout('bc5', 'BC5', 5, { alpha: 'none', channels: 'rg' }),
  blockLayout('bc5s', 'BC5, signed', 15, { alpha: 'none', channels: 'rg', isReadOnly: true }),
  floatLayout('bc6h', 'BC6H', 6),
  floatLayout('bc6hs', 'BC6H, signed', 16),
  blockLayout('bc7', 'BC7', 7, { alpha: 'full', channels: 'rgba' }),
];
