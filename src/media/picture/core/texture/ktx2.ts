import { read, write, type KTX2Container, type KTX2Level } from 'ktx-parse';
import { FormatError } from '@/core/bytes';
import type { Primitives } from '@/core/primitives';
import { layoutOf, numberOf } from './layout-numbers';
import { layouts } from './layouts';
import type { PixelLayout } from './pixel-layout';
import {
  checkShape,
  flatTexture,
  levelBytes,
  sizeAt,
  type NewShape,
  type Place,
  type Texture,
} from './texture';

/** KTX 2.0 (Khronos Texture Container). The package reads its tables; levels are unpacked and held against them here. */

const PACK_LEVEL = 9;
const MOST_LEVEL_BYTES = 512 << 20;
const SCHEMES = ['none', 'BasisLZ', 'Zstandard', 'ZLIB'] as const;

/** Opens a KTX2 file held in memory; levels under Zstandard or zlib are unpacked when they are first asked for. */
export function readKtx2(
  bytes: Uint8Array,
  file: string,
  primitives: Pick<Primitives, 'unzstd' | 'inflateZlib' | 'zstd' | 'deflateZlib'>,
): Texture {
  let container: KTX2Container;
  try {
    // The package takes what is left of a shared buffer for the file, so that it gets one of its own.
    container = read(bytes.slice());
  } catch (error) {
    throw new FormatError('truncated', {
      file,
      byteOffset: 0,
      expected: 'the tables of a KTX2 file',
      actual: error instanceof Error ? error.message : String(error),
    });
  }
  const wrong = (fieldPath: string, expected: string, actual: string, byteOffset: number): never => {
    throw new FormatError('bad-value', { file, fieldPath, byteOffset, expected, actual });
  };
  const [name, colourSpace] =
    layoutOf('vk', container.vkFormat) ??
    wrong('vkFormat', 'a pixel layout that is known here', `VkFormat ${container.vkFormat}`, 12);
  const layout = layouts.get(name)!;
  const scheme = SCHEMES[container.supercompressionScheme];
  if (scheme !== 'none' && scheme !== 'Zstandard' && scheme !== 'ZLIB')
    return wrong(
      'supercompressionScheme',
      'none, Zstandard or ZLIB',
      `scheme ${container.supercompressionScheme}`,
      44,
    );
  const shape = {
    width: container.pixelWidth,
    height: Math.max(1, container.pixelHeight),
    depth: Math.max(1, container.pixelDepth),
    levels: Math.max(1, container.levels.length),
    layers: Math.max(1, container.layerCount),
    faces: container.faceCount,
  };
  checkShape(shape, file);
  if (container.levels.length === 0) wrong('levels', 'at least one', 'none', 40);
  const all = { ...shape, layout } as Texture;
  const plain = new Map<number, Uint8Array>();
  const level = (number: number): Uint8Array => {
    const known = plain.get(number);
    if (known) return known;
    const { levelData } = container.levels[number]!;
    const wanted = levelBytes(all, number) * shape.layers * shape.faces;
    // Of a packed level the head alone says how much will come of it.
    if (scheme !== 'none' && wanted > MOST_LEVEL_BYTES)
      throw new FormatError('budget', {
        file,
        fieldPath: `levels[${number}]`,
        expected: `at most ${MOST_LEVEL_BYTES} bytes once it is unpacked`,
        actual: `${wanted}`,
      });
    let data: Uint8Array = levelData;
    try {
      if (scheme === 'Zstandard') data = primitives.unzstd(levelData, wanted);
      else if (scheme === 'ZLIB') data = primitives.inflateZlib(levelData, wanted);
    } catch (error) {
      wrong(
        `levels[${number}]`,
        `${wanted} bytes under ${scheme}`,
        (error as Error).message,
        80 + 24 * number,
      );
    }
    if (data.length < wanted)
      throw new FormatError('truncated', {
        file,
        fieldPath: `levels[${number}]`,
        byteOffset: 80 + 24 * number,
        expected: `${wanted} bytes for ${sizeAt(shape.width, number)} x ${sizeAt(shape.height, number)} in ${layout.title}`,
        actual: `${data.length}`,
      });
    plain.set(number, data);
    return data;
  };
  return {
    container: scheme === 'none' ? 'KTX2' : `KTX2, ${scheme}`,
    ...shape,
    layout,
    colourSpace,
    image(place: Place) {
      const each = layout.levelLength(sizeAt(shape.width, place.level), sizeAt(shape.height, place.level));
      const slices = sizeAt(shape.depth, place.level);
      const at = ((place.layer * shape.faces + place.face) * slices + place.slice) * each;
      return level(place.level).subarray(at, at + each);
    },
    rebuild(image) {
      const pack = (bytes: Uint8Array): Uint8Array =>
        scheme === 'Zstandard'
          ? primitives.zstd(bytes, PACK_LEVEL)
          : scheme === 'ZLIB'
            ? primitives.deflateZlib(bytes, PACK_LEVEL)
            : bytes;
      return write({ ...container, levels: levelsOf({ ...all, image }, pack) });
    },
    ...(shape.layers * shape.faces * shape.depth === 1 && {
      layouts: () => layouts.all().filter((one) => numberOf('vk', one.name, colourSpace) !== undefined),
      reshape: (wanted: NewShape, images: readonly Uint8Array[]) =>
        writeKtx2(
          flatTexture(wanted, colourSpace, images),
          scheme === 'Zstandard' ? (bytes) => primitives.zstd(bytes, PACK_LEVEL) : undefined,
        ),
    }),
  };
}

/** All levels of a texture as the file keeps them: of each level its layers, faces and slices, one behind the other. */
function levelsOf(texture: Texture, pack: (plain: Uint8Array) => Uint8Array): KTX2Level[] {
  const { levels, layers, faces, depth } = texture;
  return Array.from({ length: levels }, (_, level) => {
    const plain = new Uint8Array(levelBytes(texture, level) * layers * faces);
    let at = 0;
    for (let layer = 0; layer < layers; layer++)
      for (let face = 0; face < faces; face++)
        for (let slice = 0; slice < sizeAt(depth, level); slice++) {
          const image = texture.image({ level, layer, face, slice });
          plain.set(image, at);
          at += image.length;
        }
    return { levelData: Uint8Array.from(pack(plain)), uncompressedByteLength: plain.length };
  });
}

/** Numbers of the Khronos Data Format: colour models of the block codecs. */
const MODELS: Record<string, number> = {
  bc1: 128,
  bc2: 129,
  bc3: 130,
  bc4: 131,
  bc5: 132,
  bc6h: 133,
  bc7: 134,
};
const [CHANNEL_ALPHA, IS_SIGNED, IS_FLOAT] = [15, 0x40, 0x80];

type Descriptor = KTX2Container['dataFormatDescriptor'][number];
type Sample = Descriptor['samples'][number];

/** Samples of a texel or block: which channel lies in which bits (Khronos Data Format, 5.14). */
function samplesOf({ name, block, channels, depth }: PixelLayout): Sample[] {
  const sample = (channel: number, bitOffset: number, bits: number, flags = 0): Sample =>
    ({
      bitOffset,
      bitLength: bits - 1,
      channelType: channel | flags,
      samplePosition: [0, 0, 0, 0],
      sampleLower: flags & IS_FLOAT ? 0xbf800000 : 0,
      sampleUpper: flags & IS_FLOAT ? 0x3f800000 : bits >= 32 ? 0xffffffff : 2 ** bits - 1,
    }) as Sample;
  if (block === 4) {
    const isSigned = name.endsWith('s');
    const flags = (isSigned ? IS_SIGNED : 0) | (depth === 'float' ? IS_FLOAT : 0);
    const base = name.replace(/s$/, '');
    if (base === 'bc2' || base === 'bc3') return [sample(CHANNEL_ALPHA, 0, 64), sample(0, 64, 64)];
    if (base === 'bc5') return [sample(0, 0, 64, flags), sample(1, 64, 64, flags)];
    return [sample(0, 0, base === 'bc1' || base === 'bc4' ? 64 : 128, flags)];
  }
  const orders: Record<string, readonly (readonly [number, number])[]> = {
    rgb565: [
      [2, 5],
      [1, 6],
      [0, 5],
    ],
    bgr565: [
      [0, 5],
      [1, 6],
      [2, 5],
    ],
    argb1555: [
      [2, 5],
      [1, 5],
      [0, 5],
      [CHANNEL_ALPHA, 1],
    ],
    rgba5551: [
      [CHANNEL_ALPHA, 1],
      [2, 5],
      [1, 5],
      [0, 5],
    ],
    argb4444: [
      [2, 4],
      [1, 4],
      [0, 4],
      [CHANNEL_ALPHA, 4],
    ],
    rgba4444: [
      [CHANNEL_ALPHA, 4],
      [2, 4],
      [1, 4],
      [0, 4],
    ],
    bgra8: [
      [2, 8],
      [1, 8],
      [0, 8],
      [CHANNEL_ALPHA, 8],
    ],
    bgr8: [
      [2, 8],
      [1, 8],
      [0, 8],
    ],
  };
  const bits = depth === 8 ? 8 : name.endsWith('32f') ? 32 : 16;
  const flags = depth === 'float' ? IS_FLOAT | IS_SIGNED : 0;
  const count = channels === 'rgba' ? 4 : channels === 'rgb' ? 3 : channels === 'r' ? 1 : 2;
  const order =
    orders[name] ?? Array.from({ length: count }, (_, c) => [c === 3 ? CHANNEL_ALPHA : c, bits] as const);
  let at = 0;
  return order.map(([channel, length]) => {
    at += length;
    return sample(channel, at - length, length, flags);
  });
}

/** A texture as a KTX2 file, its levels under Zstandard with `pack`. Throws FormatError `does-not-fit` for other layouts. */
export function writeKtx2(texture: Texture, pack?: (plain: Uint8Array) => Uint8Array): Uint8Array {
  const { layout, width, height, depth, levels, layers, faces, colourSpace } = texture;
  const vkFormat = numberOf('vk', layout.name, colourSpace);
  if (vkFormat === undefined)
    throw new FormatError('does-not-fit', {
      expected: 'a pixel layout that KTX2 has',
      actual: layout.title,
      remedy: 'Take it as DDS or PNG',
    });
  const texel = layout.levelLength(layout.block, layout.block);
  const isSrgb = layoutOf('vk', vkFormat)![1] === 'sRGB';
  return write({
    vkFormat: vkFormat as KTX2Container['vkFormat'],
    typeSize:
      layout.block === 4
        ? 1
        : layout.depth === 8
          ? /\d{3}/.test(layout.name)
            ? 2
            : 1
          : layout.name.endsWith('32f')
            ? 4
            : 2,
    pixelWidth: width,
    pixelHeight: height,
    pixelDepth: depth > 1 ? depth : 0,
    layerCount: layers > 1 ? layers : 0,
    faceCount: faces,
    levelCount: levels,
    supercompressionScheme: pack ? 2 : 0,
    levels: levelsOf(texture, pack ?? ((plain) => plain)),
    dataFormatDescriptor: [
      {
        vendorId: 0,
        descriptorType: 0,
        versionNumber: 2,
        colorModel: MODELS[layout.name.replace(/s$/, '')] ?? 1,
        colorPrimaries: 1,
        transferFunction: isSrgb ? 2 : 1,
        flags: 0,
        texelBlockDimension: [layout.block - 1, layout.block - 1, 0, 0],
        bytesPlane: [pack ? 0 : texel, 0, 0, 0, 0, 0, 0, 0],
        samples: samplesOf(layout),
      } as Descriptor,
    ],
    keyValue: {},
    globalData: null,
  });
}
