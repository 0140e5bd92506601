import { distance, image, utils } from 'image-q';
import { equalBytes, FormatError } from '@/core/bytes';
import { requireLength, type PixelLayout } from './pixel-layout';
import type { Pixels } from './pixels';

/** The colours that indices stand for. */
export interface Palette {
  /** Red, green, blue and alpha of each, a byte each. */
  readonly colours: Uint8Array;
  /** The index that is see-through, whatever its colour; undefined where none is. */
  readonly clear: number | undefined;
}

/** A layout whose texels are indices into a palette, one byte each, or two where the second is how solid it is. */
export interface IndexedLayout extends PixelLayout {
  readonly palette: Palette;
  readonly bits: number;
  readonly withMask: boolean;
  dithered(pixels: Pixels): Uint8Array;
}

/** Whether the texels of two layouts are the same bytes: of numbered colours also the palettes have to be alike. */
export function sameLayout(a: PixelLayout, b: PixelLayout): boolean {
  if (a === b) return true;
  if (!isIndexed(a) || !isIndexed(b)) return false;
  const isAlike = a.bits === b.bits && a.withMask === b.withMask && a.palette.clear === b.palette.clear;
  return isAlike && equalBytes(a.palette.colours, b.palette.colours);
}

/** The same layout, coding with its colours mixed where it has few. */
export const ditheringLayout = (layout: PixelLayout): PixelLayout =>
  layout.dithered ? { ...layout, isMixing: true, encode: layout.dithered } : layout;

export const isIndexed = (layout: PixelLayout): layout is IndexedLayout => 'palette' in layout;

const MOST_COLOURS = 256;

/**
 * A palette from the bytes of its colours in a pixel layout of whole texels. `key` is a colour that is see-through wherever it stands.
 * Throws FormatError where there are none.
 */
export function paletteOf(
  bytes: Uint8Array,
  layout: PixelLayout,
  clear: number | undefined,
  key: Uint8Array | undefined,
): Palette {
  const each = layout.levelLength(1, 1);
  const count = Math.min(MOST_COLOURS, Math.floor(bytes.length / each));
  if (count < 1 || layout.block !== 1)
    throw new FormatError('bad-value', {
      fieldPath: 'picture.palette',
      expected: `colours of ${each} bytes each (${layout.title})`,
      actual: `${bytes.length} bytes`,
    });
  const colours = layout.decode(bytes.subarray(0, count * each), count, 1).data.slice();
  if (key)
    for (let at = 0; at < colours.length; at += 4)
      if (key.every((value, i) => colours[at + i] === value)) colours[at + 3] = 0;
  if (clear !== undefined && clear < count) colours[4 * clear + 3] = 0;
  return { colours, clear: clear !== undefined && clear < count ? clear : undefined };
}

/** Indices into a palette. `withMask` has a second byte a texel: 255 where it is there, 0 in a gap. */
export function indexedLayout(palette: Palette, bits: number, withMask = false): IndexedLayout {
  const size = withMask ? 2 : 1;
  const name = withMask ? 'indexed8a8' : `indexed${bits}`;
  const usable = usableColours(palette, Math.min(MOST_COLOURS, 1 << bits));
  const isSharp = [...usable.values()].every((index) => palette.colours[4 * index + 3] === 255);
  const hasClear = withMask || clearIndex(palette) !== undefined;
  const levelLength = (width: number, height: number): number => width * height * size;
  const put = (pixels: Pixels, indexOf: (pixels: Pixels) => Uint8Array): Uint8Array => {
    const indices = indexOf(pixels);
    if (!withMask) return indices;
    const out = new Uint8Array(2 * indices.length);
    for (let i = 0; i < indices.length; i++)
      if (pixels.data[4 * i + 3]! >= 128) out.set([indices[i]!, 255], 2 * i);
    return out;
  };
  return {
    name,
    title: `${1 << bits} colours by number${withMask ? ', with gaps' : ''}`,
    alpha: !isSharp ? 'full' : hasClear ? 'one bit' : 'none',
    channels: isSharp && !hasClear ? 'rgb' : 'rgba',
    depth: 8,
    block: 1,
    isExact: false,
    ...{ palette, bits, withMask },
    levelLength,
    decode(bytes, width, height) {
      requireLength(name, bytes, levelLength(width, height));
      const data = new Uint8Array(width * height * 4);
      const words = new Uint32Array(data.buffer);
      // An index without a colour shows nothing.
      const table = new Uint32Array(256);
      new Uint8Array(table.buffer).set(palette.colours);
      if (!withMask) for (let i = 0; i < words.length; i++) words[i] = table[bytes[i]!]!;
      else for (let i = 0; i < words.length; i++) if (bytes[2 * i + 1]! > 0) words[i] = table[bytes[2 * i]!]!;
      return { width, height, data };
    },
    encode: (pixels) => put(pixels, (of) => nearest(of, palette, usable)),
    dithered: (pixels) => put(pixels, (of) => spread(of, palette, usable)),
  };
}

/** A layout in which one colour stands for see-through. */
export function keyedLayout(layout: PixelLayout, key: Uint8Array): PixelLayout {
  const [red, green, blue] = key;
  const isKey = (data: Uint8Array, at: number): boolean =>
    data[at] === red && data[at + 1] === green && data[at + 2] === blue;
  return {
    ...layout,
    alpha: layout.alpha === 'none' ? 'one bit' : layout.alpha,
    channels: 'rgba',
    isExact: false,
    decode(bytes, width, height) {
      const pixels = layout.decode(bytes, width, height);
      for (let at = 0; at < pixels.data.length; at += 4) if (isKey(pixels.data, at)) pixels.data[at + 3] = 0;
      return pixels;
    },
    ...(layout.encode && {
      encode(pixels, quality) {
        const data = pixels.data.slice();
        for (let at = 0; at < data.length; at += 4) {
          if (data[at + 3]! < 128) data.set([red!, green!, blue!, 255], at);
          // What has the very colour and is solid goes one step beside it, so that it stays.
          else if (isKey(data, at)) data[at] = red! > 127 ? red! - step(layout) : red! + step(layout);
        }
        return layout.encode!({ ...pixels, data }, quality);
      },
    }),
  };
}

/** The least step of red that a layout keeps. */
const step = ({ isExact }: PixelLayout): number => (isExact ? 1 : 9);

const key32 = (data: Uint8Array, at: number): number =>
  (data[at]! | (data[at + 1]! << 8) | (data[at + 2]! << 16) | (data[at + 3]! << 24)) >>> 0;

/** The first index of each colour that is not see-through. */
function usableColours({ colours, clear }: Palette, most: number): Map<number, number> {
  const found = new Map<number, number>();
  for (let index = 0; index < Math.min(most, colours.length / 4); index++) {
    const key = key32(colours, 4 * index);
    if (index !== clear && colours[4 * index + 3]! > 0 && !found.has(key)) found.set(key, index);
  }
  return found;
}

/** The index that what is not there gets: the one that is see-through, by itself or by its colour. */
function clearIndex({ colours, clear }: Palette): number | undefined {
  if (clear !== undefined) return clear;
  for (let at = 3; at < colours.length; at += 4) if (colours[at] === 0) return at >> 2;
  return undefined;
}

const libraryPalette = (usable: ReadonlyMap<number, number>): utils.Palette => {
  const palette = new utils.Palette();
  for (const colour of usable.keys()) palette.add(utils.Point.createByUint32(colour));
  return palette;
};

/** Texels that the package is given at a time, since it makes an object of each. */
const AT_A_TIME = 1 << 18;

const near = new distance.Euclidean();
const FLOYD_STEINBERG = image.ErrorDiffusionArrayKernel.FloydSteinberg;
/** The package hands on all that a texel owes, also what was lent to it, only where it is told to. */
const PASSES_ALL_ON = true;

/** Texels with colours of the palette alone, some rows at a time. */
function mapped(
  { width, height, data }: Pixels,
  usable: ReadonlyMap<number, number>,
  how: 'nearest' | 'spread',
): Uint8Array {
  const palette = libraryPalette(usable);
  const quantizer =
    how === 'nearest'
      ? new image.NearestColor(near)
      : new image.ErrorDiffusionArray(near, FLOYD_STEINBERG, true, 0, PASSES_ALL_ON);
  const out = new Uint8Array(data.length);
  const rows = Math.max(1, Math.floor(AT_A_TIME / width));
  for (let y = 0; y < height; y += rows) {
    const count = Math.min(rows, height - y);
    const part = data.slice(4 * y * width, 4 * (y + count) * width);
    const given = utils.PointContainer.fromUint8Array(part, width, count);
    out.set(quantizer.quantizeSync(given, palette).toUint8Array(), 4 * y * width);
  }
  return out;
}

/** The nearest colour of each texel; each colour is looked for once. */
function nearest(pixels: Pixels, palette: Palette, usable: ReadonlyMap<number, number>): Uint8Array {
  const { data } = pixels;
  const clear = clearIndex(palette);
  const indexOf = new Map(usable);
  const unknown = new Map<number, number>();
  for (let at = 0; at < data.length; at += 4) {
    const key = key32(data, at);
    const isThere = clear === undefined || data[at + 3]! >= 128;
    if (isThere && !indexOf.has(key) && !unknown.has(key)) unknown.set(key, unknown.size);
  }
  if (unknown.size > 0 && usable.size > 0) {
    const colours = new Uint8Array(new Uint32Array(unknown.keys()).buffer);
    const found = mapped({ width: 1, height: unknown.size, data: colours }, usable, 'nearest');
    for (const [key, at] of unknown) indexOf.set(key, usable.get(key32(found, 4 * at))!);
  }
  return Uint8Array.from({ length: data.length / 4 }, (_, i) =>
    clear !== undefined && data[4 * i + 3]! < 128 ? clear : (indexOf.get(key32(data, 4 * i)) ?? clear ?? 0),
  );
}

function spread(pixels: Pixels, palette: Palette, usable: ReadonlyMap<number, number>): Uint8Array {
  const { width, height } = pixels;
  if (usable.size === 0) return nearest(pixels, palette, usable);
  const data = mapped(pixels, usable, 'spread');
  // What is not there stays so, whatever was spread over it.
  for (let at = 3; at < data.length; at += 4) if (pixels.data[at]! < 128) data[at] = 0;
  return nearest({ width, height, data }, palette, usable);
}
