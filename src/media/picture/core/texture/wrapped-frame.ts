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

/** One picture of a wrapper: the plain bytes of an entry, and what they are. */
export interface Frame {
  readonly entry: Entry;
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly levels: number;
  /** Of texels side by side, as `texels` gives them. */
  readonly layout: PixelLayout;
  /** The spot that a program places the picture by, in texels from the upper left; undefined where the script says none. */
  readonly origin: { readonly x: number; readonly y: number } | undefined;
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

/** What a script says of one entry. Throws FormatError where head, palette and pixels do not agree. */
export function frameOf(
  picture: PictureType,
  archive: Archive,
  entry: Entry,
  file: string,
  beside: Beside,
): Frame {
  const { context } = archive;
  const { row } = entry;
  const count = (of: Compiled | undefined): number | undefined => of && asCount(of.run(context, row));
  const facts = { file, fieldPath: 'picture' };
  const width = count(picture.width)!;
  const height = count(picture.height)!;
  const levels = count(picture.levels) ?? 1;
  checkShape({ width, height, levels, depth: 1, layers: 1, faces: 1 }, file);
  const wanted = asText(picture.layout.run(context, row));
  const planes = planesOf(picture, (of) => count(of), facts);
  const indexed = INDEXED.exec(wanted);
  const isIndexed = indexed !== null || wanted === WITH_MASK;
  const bits = planes?.of === 'bits' ? planes.count : indexed ? Number(indexed[1]) : 8;
  const plain = layouts.get(wanted);
  if (!isIndexed && !plain)
    throw new FormatError('bad-value', {
      ...facts,
      expected: `a pixel layout: ${[...layouts.names(), ...INDEXED_NAMES].join(', ')}`,
      actual: wanted,
    });
  const layout = isIndexed
    ? indexedLayout(readPalette(picture, archive, entry, file, beside), bits, wanted === WITH_MASK)
    : picture.key
      ? keyedLayout(plain!, picture.key)
      : plain!;
  const interlace = picture.rows?.interlace
    ? wordOf(INTERLACES, asText(picture.rows.interlace.run(context, row)), facts)
    : 'none';
  const channels = layout.levelLength(1, 1);
  const how: Arrangement = {
    bits: indexed && planes?.of !== 'bits' ? bits : 8 * channels,
    lowFirst: indexed?.[2] !== undefined,
    align: count(picture.rows?.align) ?? 1,
    rowBytes: count(picture.rows?.bytes),
    bottomFirst: picture.rows?.bottomFirst ? asTruth(picture.rows.bottomFirst.run(context, row)) : false,
    interlace,
    planes: planes?.of === 'channels' ? { ...planes, count: channels } : planes,
  };
  if (planes && planes.of !== 'bits' && how.bits < 8)
    throw new FormatError('bad-value', {
      ...{ file, fieldPath: 'picture.planes' },
      expected: 'texels of whole bytes',
      actual: wanted,
    });
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
  const skipped = count(picture.first);
  const before = skipped ?? 0;
  const offsets = lengths.map((_, level) =>
    lengths.slice(0, level).reduce((sum, length) => sum + length, before),
  );
  const total = lengths.reduce((sum, length) => sum + length, before);
  if (skipped === undefined ? entry.size !== total : entry.size < total)
    throw new FormatError('bad-value', {
      ...facts,
      expected: `${total} bytes for ${levels} ${levels === 1 ? 'level' : 'levels'} of ${layout.name}`,
      actual: `${entry.size}`,
    });
  let held: Uint8Array | undefined;
  const whole = (): Uint8Array => (held ??= collect(archive.plain(entry)));
  const level = (at: number): Uint8Array => whole().subarray(offsets[at]!, offsets[at]! + lengths[at]!);
  return {
    ...{ entry, width, height, levels, layout, isRearranged },
    name: nameOf(entry),
    origin: picture.origin && {
      x: Number(picture.origin.x.run(context, row)),
      y: Number(picture.origin.y.run(context, row)),
    },
    texels: (at) => places[at]?.gather(level(at)) ?? level(at),
    stored(given) {
      const out = skipped === undefined ? new Uint8Array(total) : whole().slice();
      for (const [at, texels] of given.entries())
        out.set(places[at]?.scatter(texels, level(at)) ?? texels, offsets[at]);
      return out;
    },
  };
}

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
