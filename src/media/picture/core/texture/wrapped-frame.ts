import type { Archive, Entry } from '@/core/archive';
import { collect, FormatError, type BytesRef } from '@/core/bytes';
import { asCount, asRef, asText, asTruth, type Compiled, type PictureType } from '@/core/script';
import { arranged, INTERLACES, isPlain, type Arranged, type Arrangement, type Planes } from './arrangement';
import { layouts } from './layouts';
import { indexedLayout, keyedLayout, paletteOf, type Palette } from './palette';
import type { PixelLayout } from './pixel-layout';
import { checkShape, sizeAt } from './texture';

/** Finds the bytes of another entry or file by the path that a script says; undefined where there is none. */
export type Beside = (path: string) => Uint8Array | undefined;
export const NOTHING_BESIDE: Beside = () => undefined;

/** What is said of one picture, worked out: enough to read it from its plain bytes, and made to be sent to threads. */
export interface FrameSpec {
  readonly file: string;
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly levels: number;
  readonly layout: string;
  /** Of numbered colours. */
  readonly palette: Palette | undefined;
  readonly key: Uint8Array | undefined;
  readonly how: Arrangement;
  /** Bytes before the first texel; undefined where there are texels and nothing else. */
  readonly first: number | undefined;
  readonly origin: { readonly x: number; readonly y: number } | undefined;
}

/** One picture of a wrapper: the plain bytes of an entry, and what they are. */
export interface Frame extends Pick<FrameSpec, 'name' | 'width' | 'height' | 'levels' | 'origin'> {
  /** Of texels side by side, as `texels` gives them. */
  readonly layout: PixelLayout;
  /** Whether texels lie otherwise than side by side, rows from the top. */
  readonly isRearranged: boolean;
  /** The texels of a level. */
  texels(level: number): Uint8Array;
  /** The plain bytes of the entry with other texels, level by level. */
  stored(levels: readonly Uint8Array[]): Uint8Array;
}

const INDEXED = /^indexed(1|2|4|8)(-low)?$/;
const WITH_MASK = 'indexed8a8';

/** Names of layouts beside those of the registry: they take a palette. */
export const INDEXED_NAMES: readonly string[] = [
  ...[1, 2, 4].flatMap((bits) => [`indexed${bits}`, `indexed${bits}-low`]),
  'indexed8',
  WITH_MASK,
];

/** More colours than any layout has. */
const MOST_PALETTE_BYTES = 1 << 16;

const indexedBits = (layout: string): number | undefined => {
  const found = INDEXED.exec(layout);
  return found ? Number(found[1]) : layout === WITH_MASK ? 8 : undefined;
};

/** What a script says of one entry. Throws FormatError where it cannot be worked out. */
export function specOf(
  picture: PictureType,
  archive: Archive,
  entry: Entry,
  file: string,
  beside: Beside,
): FrameSpec {
  const { context } = archive;
  const { row } = entry;
  const count = (of: Compiled | undefined): number | undefined => of && asCount(of.run(context, row));
  const facts = { file, fieldPath: 'picture' };
  const layout = asText(picture.layout.run(context, row));
  const planes = planesOf(picture, (of) => count(of), facts);
  const own = indexedBits(layout);
  const plain = layouts.get(layout);
  if (own === undefined && !plain)
    throw new FormatError('bad-value', {
      ...facts,
      expected: `a pixel layout: ${[...layouts.names(), ...INDEXED_NAMES].join(', ')}`,
      actual: layout,
    });
  const texelBytes = layout === WITH_MASK ? 2 : plain && plain.block === 1 ? plain.levelLength(1, 1) : 1;
  const interlace = picture.rows?.interlace
    ? wordOf(INTERLACES, asText(picture.rows.interlace.run(context, row)), facts)
    : 'none';
  const how: Arrangement = {
    bits: INDEXED.test(layout) ? (planes?.of === 'bits' ? 8 : own!) : 8 * texelBytes,
    lowFirst: layout.endsWith('-low'),
    align: count(picture.rows?.align) ?? 1,
    rowBytes: count(picture.rows?.bytes),
    bottomFirst: picture.rows?.bottomFirst ? asTruth(picture.rows.bottomFirst.run(context, row)) : false,
    interlace,
    planes: planes?.of === 'channels' ? { ...planes, count: texelBytes } : planes,
  };
  if (planes && planes.of !== 'bits' && how.bits < 8)
    throw new FormatError('bad-value', {
      ...{ file, fieldPath: 'picture.planes' },
      expected: 'texels of whole bytes',
      actual: layout,
    });
  return {
    ...{ file, layout, how },
    name: nameOf(entry),
    width: count(picture.width)!,
    height: count(picture.height)!,
    levels: count(picture.levels) ?? 1,
    palette: own === undefined ? undefined : readPalette(picture, archive, entry, file, beside),
    key: picture.key,
    first: count(picture.first),
    origin: picture.origin && {
      x: Number(picture.origin.x.run(context, row)),
      y: Number(picture.origin.y.run(context, row)),
    },
  };
}

/** The layout of texels side by side. */
function layoutOf({ layout, palette, key, how }: FrameSpec): PixelLayout {
  if (palette) {
    const bits = how.planes?.of === 'bits' ? how.planes.count : indexedBits(layout)!;
    return indexedLayout(palette, bits, layout === WITH_MASK);
  }
  const plain = layouts.get(layout)!;
  return key ? keyedLayout(plain, key) : plain;
}

/** A picture from its plain bytes, of which there are `size`. Throws FormatError where they are not as many as the texels take. */
export function frameFrom(spec: FrameSpec, size: number, plain: () => Uint8Array): Frame {
  const { file, name, width, height, levels, how, first, origin } = spec;
  const facts = { file, fieldPath: 'picture' };
  checkShape({ width, height, levels, depth: 1, layers: 1, faces: 1 }, file);
  const layout = layoutOf(spec);
  const isRearranged = !isPlain(how);
  if (isRearranged && layout.block !== 1)
    throw new FormatError('bad-value', {
      ...facts,
      expected: `rows and planes of a layout of single texels`,
      actual: layout.title,
    });
  const sizes = Array.from(
    { length: levels },
    (_, level) => [sizeAt(width, level), sizeAt(height, level)] as const,
  );
  const places: Arranged[] = isRearranged ? sizes.map(([wide, high]) => arranged(how, wide, high)) : [];
  const lengths = sizes.map(([wide, high], level) => places[level]?.length ?? layout.levelLength(wide, high));
  const before = first ?? 0;
  const offsets = lengths.map((_, level) =>
    lengths.slice(0, level).reduce((sum, length) => sum + length, before),
  );
  const total = lengths.reduce((sum, length) => sum + length, before);
  if (first === undefined ? size !== total : size < total)
    throw new FormatError('bad-value', {
      ...facts,
      expected: `${total} bytes for ${levels} ${levels === 1 ? 'level' : 'levels'} of ${layout.name}`,
      actual: `${size}`,
    });
  let held: Uint8Array | undefined;
  const whole = (): Uint8Array => (held ??= plain());
  const level = (at: number): Uint8Array => whole().subarray(offsets[at]!, offsets[at]! + lengths[at]!);
  return {
    ...{ name, width, height, levels, layout, isRearranged, origin },
    texels: (at) => places[at]?.gather(level(at)) ?? level(at),
    stored(given) {
      const out = first === undefined ? new Uint8Array(total) : whole().slice();
      for (const [at, texels] of given.entries())
        out.set(places[at]?.scatter(texels, level(at)) ?? texels, offsets[at]);
      return out;
    },
  };
}

/** What a script says of one entry. Throws FormatError where head, palette and pixels do not agree. */
export const frameOf = (
  picture: PictureType,
  archive: Archive,
  entry: Entry,
  file: string,
  beside: Beside,
): Frame =>
  frameFrom(specOf(picture, archive, entry, file, beside), entry.size, () => collect(archive.plain(entry)));

const nameOf = ({ path }: Entry): string => path.slice(path.lastIndexOf('/') + 1);

function wordOf<T extends string>(words: readonly T[], text: string, facts: { file: string }): T {
  const word = words.find((one) => one === text);
  if (word === undefined)
    throw new FormatError('bad-value', {
      ...facts,
      fieldPath: 'picture.rows',
      expected: words.join(', '),
      actual: text,
    });
  return word;
}

function planesOf(
  { planes }: PictureType,
  count: (of: Compiled | undefined) => number | undefined,
  facts: { file: string },
): Planes | undefined {
  if (!planes) return undefined;
  const many = count(planes.count) ?? 1;
  if (many < 1 || many > (planes.of === 'columns' ? 64 : 8))
    throw new FormatError('bad-value', {
      ...facts,
      fieldPath: 'picture.planes.count',
      expected: '1 to 8 planes, or 64 of columns',
      actual: `${many}`,
    });
  return { of: planes.of, by: planes.by, count: many };
}

const head = (ref: BytesRef): Uint8Array => {
  if (ref.length > MOST_PALETTE_BYTES)
    throw new FormatError('budget', {
      fieldPath: 'picture.palette',
      expected: `at most ${MOST_PALETTE_BYTES} bytes of colours`,
      actual: `${ref.length}`,
    });
  return collect(ref);
};

function readPalette(
  { palette, key }: PictureType,
  archive: Archive,
  entry: Entry,
  file: string,
  beside: Beside,
): Palette {
  const { context } = archive;
  const { row } = entry;
  if (!palette)
    throw new FormatError('script-wrong', {
      file,
      fieldPath: 'picture',
      expected: "a 'palette' for a layout of numbered colours",
      actual: 'none',
    });
  const clear = palette.clear && Number(palette.clear.run(context, row));
  const { from } = palette;
  if (from.sort === 'written') return paletteOf(from.colours, layouts.get('rgba8')!, clear, key);
  const wanted = palette.layout ? asText(palette.layout.run(context, row)) : 'rgb8';
  const layout = layouts.get(wanted);
  if (!layout || layout.block !== 1)
    throw new FormatError('bad-value', {
      file,
      fieldPath: 'picture.palette.layout',
      expected: 'a pixel layout of whole texels, such as rgb8, bgrx8 or rgb565',
      actual: wanted,
    });
  if (from.sort === 'bytes') return paletteOf(head(asRef(from.bytes.run(context, row))), layout, clear, key);
  const path = asText(from.path.run(context, row));
  const other = beside(path);
  if (!other)
    throw new FormatError('part-missing', {
      file,
      fieldPath: 'picture.palette',
      expected: `the colours in ${path}`,
      actual: 'no such entry beside this one',
      remedy: 'Look at it where that entry is beside it, in the same archive or folder',
    });
  const skip = from.skip ? asCount(from.skip.run(context, row)) : 0;
  return paletteOf(other.subarray(skip, skip + MOST_PALETTE_BYTES), layout, clear, key);
}
