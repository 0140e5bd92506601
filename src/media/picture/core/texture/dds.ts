import { FormatError } from '@/core/bytes';
import { layoutOf, numberOf } from './layout-numbers';
import { layouts } from './layouts';
import type { PixelLayout } from './pixel-layout';
import {
  checkShape,
  flatTexture,
  placesOf,
  levelBytes,
  sizeAt,
  type ColourSpace,
  type NewShape,
  type Place,
  type Texture,
} from './texture';

/** DirectDraw surfaces (DDS, "Programming Guide for DDS", with and without the DX10 head). All numbers lowest byte first. */

const TAG = 0x20534444;
const HEAD = 128;
const FORMAT = { alphaPixels: 1, alpha: 2, code: 4, colour: 0x40, luminance: 0x20000 } as const;
const CUBE = 0x200;
const VOLUME = 0x200000;

const code = (text: string): number =>
  [...text].reduce((word, sign, i) => word | (sign.charCodeAt(0) << (8 * i)), 0) >>> 0;

/** What a four letter code, or a number in its place, stands for. */
const CODES = new Map<number, string>([
  [code('DXT1'), 'bc1'],
  [code('DXT2'), 'bc2'],
  [code('DXT3'), 'bc2'],
  [code('DXT4'), 'bc3'],
  [code('DXT5'), 'bc3'],
  [code('ATI1'), 'bc4'],
  [code('BC4U'), 'bc4'],
  [code('BC4S'), 'bc4s'],
  [code('ATI2'), 'bc5'],
  [code('BC5U'), 'bc5'],
  [code('BC5S'), 'bc5s'],
  [36, 'rgba16'],
  [111, 'r16f'],
  [112, 'rg16f'],
  [113, 'rgba16f'],
  [114, 'r32f'],
  [115, 'rg32f'],
  [116, 'rgba32f'],
]);

/** Bits a texel, and the masks of red, green, blue and alpha. */
const MASKS: readonly (readonly [string, number, number, number, number, number])[] = [
  ['bgra8', 32, 0xff0000, 0xff00, 0xff, 0xff000000],
  ['bgrx8', 32, 0xff0000, 0xff00, 0xff, 0],
  ['rgba8', 32, 0xff, 0xff00, 0xff0000, 0xff000000],
  ['rgbx8', 32, 0xff, 0xff00, 0xff0000, 0],
  ['bgr8', 24, 0xff0000, 0xff00, 0xff, 0],
  ['rgb8', 24, 0xff, 0xff00, 0xff0000, 0],
  ['rgb565', 16, 0xf800, 0x7e0, 0x1f, 0],
  ['argb1555', 16, 0x7c00, 0x3e0, 0x1f, 0x8000],
  ['xrgb1555', 16, 0x7c00, 0x3e0, 0x1f, 0],
  ['argb4444', 16, 0xf00, 0xf0, 0xf, 0xf000],
  ['rg16', 32, 0xffff, 0xffff0000, 0, 0],
  ['rg8', 16, 0xff, 0xff00, 0, 0],
  ['ra8', 16, 0xff, 0, 0, 0xff00],
  ['r16', 16, 0xffff, 0, 0, 0],
  ['r8', 8, 0xff, 0, 0, 0],
  ['a8', 8, 0, 0, 0, 0xff],
];

function layoutOfHead(view: DataView, file: string): readonly [PixelLayout, ColourSpace] {
  const flags = view.getUint32(80, true);
  const found = (name: string | undefined, what: string, byteOffset: number): PixelLayout => {
    const layout = name === undefined ? undefined : layouts.get(name);
    if (layout) return layout;
    throw new FormatError('bad-value', {
      file,
      fieldPath: 'head.format',
      byteOffset,
      expected: 'a pixel layout that is known here',
      actual: what,
      remedy: 'Convert it to one of the usual layouts first',
    });
  };
  if (flags & FORMAT.code) {
    const word = view.getUint32(84, true);
    if (word === code('DX10')) {
      const number = view.getUint32(128, true);
      const pair = layoutOf('dxgi', number);
      return [found(pair?.[0], `DXGI format ${number}`, 128), pair?.[1] ?? 'not said'];
    }
    const spelled = String.fromCharCode(word & 255, (word >> 8) & 255, (word >> 16) & 255, word >>> 24);
    return [
      found(CODES.get(word), /^[ -~]{4}$/.test(spelled) ? `'${spelled}'` : `code ${word}`, 84),
      'not said',
    ];
  }
  const bits = view.getUint32(88, true);
  const isLuminance = (flags & FORMAT.luminance) !== 0;
  const masks = [92, 96, 100, 104].map((at) => view.getUint32(at, true));
  if (isLuminance) masks[1] = masks[2] = 0;
  if (!(flags & (FORMAT.alphaPixels | FORMAT.alpha))) masks[3] = 0;
  if (flags & FORMAT.alpha && !(flags & FORMAT.colour)) masks[0] = masks[1] = masks[2] = 0;
  const row = MASKS.find(
    ([, wanted, ...own]) => wanted === bits && own.every((mask, i) => mask === masks[i]),
  );
  const spelled = masks.map((mask) => mask.toString(16)).join(', ');
  return [found(row?.[0], `${bits} bits with masks ${spelled}`, 88), 'not said'];
}

/** Opens a DDS file held in memory; throws FormatError where head and bytes do not agree. Its images share the bytes. */
export function readDds(bytes: Uint8Array, file: string): Texture {
  if (bytes.length < HEAD)
    throw new FormatError('truncated', {
      file,
      byteOffset: 0,
      fieldPath: 'head',
      expected: `${HEAD} bytes`,
      actual: `${bytes.length}`,
    });
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  if (view.getUint32(0, true) !== TAG)
    throw new FormatError('not-recognised', {
      file,
      byteOffset: 0,
      expected: "'DDS '",
      actual: 'something else',
    });
  const isNew = view.getUint32(80, true) & FORMAT.code && view.getUint32(84, true) === code('DX10');
  const start = isNew ? HEAD + 20 : HEAD;
  if (bytes.length < start)
    throw new FormatError('truncated', {
      file,
      byteOffset: HEAD,
      fieldPath: 'DX10 head',
      expected: '20 bytes',
      actual: `${bytes.length - HEAD}`,
    });
  const [layout, colourSpace] = layoutOfHead(view, file);
  const caps = view.getUint32(112, true);
  const isCube = isNew ? (view.getUint32(136, true) & 4) !== 0 : (caps & CUBE) !== 0;
  const isVolume = isNew ? view.getUint32(132, true) === 4 : (caps & VOLUME) !== 0;
  const shape = {
    width: view.getUint32(16, true),
    height: view.getUint32(12, true),
    depth: isVolume ? Math.max(1, view.getUint32(24, true)) : 1,
    levels: Math.max(1, view.getUint32(28, true)),
    layers: isNew ? Math.max(1, view.getUint32(140, true)) : 1,
    faces: isCube ? 6 : 1,
  };
  checkShape(shape, file);
  const lengths = Array.from({ length: shape.levels }, (_, level) =>
    levelBytes({ ...shape, layout } as Texture, level),
  );
  const chain = lengths.reduce((sum, length) => sum + length, 0);
  const wanted = chain * shape.layers * shape.faces;
  if (bytes.length - start < wanted)
    throw new FormatError('truncated', {
      file,
      byteOffset: start,
      fieldPath: 'levels',
      expected: `${wanted} bytes for ${shape.width} x ${shape.height} in ${layout.title}, ${shape.levels} levels`,
      actual: `${bytes.length - start}`,
    });
  const span = ({ level, layer, face, slice }: Place): [at: number, end: number] => {
    const each = layout.levelLength(sizeAt(shape.width, level), sizeAt(shape.height, level));
    const before = lengths.slice(0, level).reduce((sum, length) => sum + length, 0);
    const at = start + (layer * shape.faces + face) * chain + before + slice * each;
    return [at, at + each];
  };
  return {
    container: 'DDS',
    ...shape,
    layout,
    colourSpace,
    image(place: Place) {
      const [at, end] = span(place);
      return bytes.subarray(at, end);
    },
    rebuild(image) {
      const out = bytes.slice();
      for (const place of placesOf(shape)) {
        const [at, end] = span(place);
        out.set(image(place).subarray(0, end - at), at);
      }
      return out;
    },
    ...(shape.layers * shape.faces * shape.depth === 1 && {
      layouts: () =>
        layouts
          .all()
          .filter(({ name }) => oldFormat(name) ?? numberOf('dxgi', name, colourSpace) !== undefined),
      reshape: (wanted: NewShape, images: readonly Uint8Array[]) =>
        writeDds(flatTexture(wanted, colourSpace, images)),
    }),
  };
}

/** What a head of the old kind says of a layout: flags, code, bits and masks. */
function oldFormat(name: string): readonly number[] | undefined {
  if (name === 'bc1') return [FORMAT.code, code('DXT1'), 0, 0, 0, 0, 0];
  if (name === 'bc2') return [FORMAT.code, code('DXT3'), 0, 0, 0, 0, 0];
  if (name === 'bc3') return [FORMAT.code, code('DXT5'), 0, 0, 0, 0, 0];
  const row = MASKS.find(([known]) => known === name);
  if (!row) return undefined;
  const [, bits, red, green, blue, alpha] = row;
  const isGrey = red !== 0 && green === 0;
  const colour = red === 0 ? FORMAT.alpha : isGrey ? FORMAT.luminance : FORMAT.colour;
  return [colour | (alpha && red ? FORMAT.alphaPixels : 0), 0, bits, red, green, blue, alpha];
}

/**
 * A texture as a DDS file. The old head is written where it can say everything, since more programs read it. Throws
 * FormatError `does-not-fit` for layouts that DDS has no number for.
 */
export function writeDds(texture: Texture): Uint8Array {
  const { layout, width, height, depth, levels, layers, faces, colourSpace } = texture;
  const old = layers === 1 && colourSpace !== 'sRGB' ? oldFormat(layout.name) : undefined;
  const number = numberOf('dxgi', layout.name, colourSpace);
  if (!old && number === undefined)
    throw new FormatError('does-not-fit', {
      expected: 'a pixel layout that DDS has',
      actual: layout.title,
      remedy: 'Take it as KTX2 or PNG',
    });
  const start = old ? HEAD : HEAD + 20;
  const lengths = Array.from({ length: levels }, (_, level) => levelBytes(texture, level));
  const total = lengths.reduce((sum, length) => sum + length, 0) * layers * faces;
  const out = new Uint8Array(start + total);
  const view = new DataView(out.buffer);
  const put = (at: number, value: number): void => view.setUint32(at, value, true);
  const first = layout.levelLength(width, height);
  put(0, TAG);
  put(4, 124);
  // Caps, height, width and format are always there; then levels, depth, and the length of a row or of the first level.
  put(
    8,
    0x1007 | (levels > 1 ? 0x20000 : 0) | (depth > 1 ? 0x800000 : 0) | (layout.block === 4 ? 0x80000 : 8),
  );
  put(12, height);
  put(16, width);
  put(20, layout.block === 4 ? first : first / height);
  put(24, depth > 1 ? depth : 0);
  put(28, levels);
  put(76, 32);
  (old ?? [FORMAT.code, code('DX10'), 0, 0, 0, 0, 0]).forEach((value, i) => put(80 + 4 * i, value));
  put(108, 0x1000 | (levels > 1 ? 0x400008 : 0) | (faces > 1 || depth > 1 ? 8 : 0));
  put(112, faces > 1 ? 0xfe00 : depth > 1 ? VOLUME : 0);
  if (!old) {
    put(128, number!);
    put(132, depth > 1 ? 4 : 3);
    put(136, faces > 1 ? 4 : 0);
    put(140, layers);
    put(144, 0);
  }
  let at = start;
  for (const place of placesOf(texture)) {
    const image = texture.image(place);
    out.set(image, at);
    at += image.length;
  }
  return out;
}
