import { FormatError } from '@/core/bytes';

/** How texels are cut into planes that lie one after the other. */
export interface Planes {
  /** One bit of each index, the lowest first; one byte of each texel; or every so-manieth texel of a row. */
  readonly of: 'bits' | 'channels' | 'columns';
  readonly count: number;
  /** Whether each row has its planes together, or each plane lies whole. */
  readonly by: 'row' | 'picture';
}

export const INTERLACES = ['none', 'halves', 'passes'] as const;
export type Interlace = (typeof INTERLACES)[number];

/** How the rows of an image lie, apart from what a texel is. */
export interface Arrangement {
  /** Bits of a texel as it is stored, without planes of bits. */
  readonly bits: number;
  /** Whether the first of several texels in a byte is in its lowest bits. */
  readonly lowFirst: boolean;
  /** Rows begin at multiples of so many bytes. */
  readonly align: number;
  /** Bytes from one row to the next, where they are said. */
  readonly rowBytes: number | undefined;
  readonly bottomFirst: boolean;
  /** `halves`: every other row, then those between. `passes`: four passes (GIF89a, appendix E). */
  readonly interlace: Interlace;
  readonly planes: Planes | undefined;
}

/** Texels side by side, rows from the top, without gaps, and nothing else: such an image needs no arranging. */
export const isPlain = (of: Arrangement): boolean =>
  of.bits >= 8 &&
  of.align <= 1 &&
  of.rowBytes === undefined &&
  !of.bottomFirst &&
  of.interlace === 'none' &&
  !of.planes;

interface Line {
  readonly y: number;
  readonly plane: number;
  readonly offset: number;
}

/** One image of a size: takes texels out of how they lie, and puts them there. */
export interface Arranged {
  /** Bytes of the image as it is stored. */
  readonly length: number;
  /** Texels side by side, indices a byte each, rows from the top. `stored` has `length` bytes. */
  gather(stored: Uint8Array): Uint8Array;
  /** The other way; what lies between the texels is taken from `was`. */
  scatter(texels: Uint8Array, was: Uint8Array): Uint8Array;
}

/** The order in which rows are stored. */
function storedRows(height: number, { bottomFirst, interlace }: Arrangement): number[] {
  const every = (first: number, step: number): number[] =>
    Array.from({ length: Math.max(0, Math.ceil((height - first) / step)) }, (_, i) => first + i * step);
  const rows =
    interlace === 'halves'
      ? [...every(0, 2), ...every(1, 2)]
      : interlace === 'passes'
        ? [...every(0, 8), ...every(4, 8), ...every(2, 4), ...every(1, 2)]
        : every(0, 1);
  return bottomFirst ? rows.map((y) => height - 1 - y) : rows;
}

/** How an image of this size lies. Throws FormatError where the rows that are said are too short. */
export function arranged(how: Arrangement, width: number, height: number): Arranged {
  const { bits, planes, align, rowBytes } = how;
  const count = planes?.count ?? 1;
  const texelBytes = Math.max(1, bits >> 3);
  const unitBits =
    planes?.of === 'bits' ? 1 : planes?.of === 'channels' ? 8 : bits >= 8 ? 8 * texelBytes : bits;
  const unitsOf = (plane: number): number =>
    planes?.of === 'columns' ? Math.ceil((width - plane) / count) : width;
  const lineLengths = Array.from({ length: count }, (_, plane) => {
    const least = Math.ceil((unitsOf(plane) * unitBits) / 8);
    if (rowBytes !== undefined && rowBytes < least)
      throw new FormatError('bad-value', {
        fieldPath: 'picture.rows',
        expected: `at least ${least} bytes a row`,
        actual: `${rowBytes}`,
      });
    return rowBytes ?? Math.ceil(least / Math.max(1, align)) * Math.max(1, align);
  });
  const rowOfPlanes = lineLengths.reduce((sum, length) => sum + length, 0);
  const before = lineLengths.map((_, plane) =>
    lineLengths.slice(0, plane).reduce((sum, length) => sum + length, 0),
  );
  const order = storedRows(height, how);
  function* lines(): Generator<Line> {
    for (const [position, y] of order.entries())
      for (let plane = 0; plane < count; plane++)
        yield {
          y,
          plane,
          offset:
            planes?.by === 'picture'
              ? before[plane]! * height + position * lineLengths[plane]!
              : position * rowOfPlanes + before[plane]!,
        };
  }
  const one: OneLine = { width, bits, lowFirst: how.lowFirst, texelBytes, planes, count, unitsOf };
  return {
    length: rowOfPlanes * height,
    gather(stored) {
      const out = new Uint8Array(width * height * texelBytes);
      for (const line of lines()) gatherLine(one, line, stored, out);
      return out;
    },
    scatter(texels, was) {
      const out = was.slice(0, rowOfPlanes * height);
      for (const line of lines()) scatterLine(one, line, texels, out);
      return out;
    },
  };
}

interface OneLine extends Pick<Arrangement, 'bits' | 'lowFirst' | 'planes'> {
  readonly width: number;
  readonly texelBytes: number;
  readonly count: number;
  readonly unitsOf: (plane: number) => number;
}

/** Where a value of so many bits lies in its byte. */
const shiftOf = (i: number, bits: number, lowFirst: boolean): number => {
  const at = (i * bits) & 7;
  return lowFirst ? at : 8 - bits - at;
};

function gatherLine(one: OneLine, { y, plane, offset }: Line, stored: Uint8Array, out: Uint8Array): void {
  const { width, bits, lowFirst, texelBytes, planes, count } = one;
  const row = y * width * texelBytes;
  if (planes?.of === 'bits')
    for (let x = 0; x < width; x++)
      out[row + x]! |= ((stored[offset + (x >> 3)]! >> shiftOf(x, 1, lowFirst)) & 1) << plane;
  else if (planes?.of === 'channels')
    for (let x = 0; x < width; x++) out[row + x * texelBytes + plane] = stored[offset + x]!;
  else if (planes) {
    for (let i = 0; i < one.unitsOf(plane); i++)
      for (let b = 0; b < texelBytes; b++)
        out[row + (plane + i * count) * texelBytes + b] = stored[offset + i * texelBytes + b]!;
  } else if (bits >= 8) out.set(stored.subarray(offset, offset + width * texelBytes), row);
  else
    for (let x = 0; x < width; x++)
      out[row + x] = (stored[offset + ((x * bits) >> 3)]! >> shiftOf(x, bits, lowFirst)) & ((1 << bits) - 1);
}

function scatterLine(one: OneLine, { y, plane, offset }: Line, texels: Uint8Array, out: Uint8Array): void {
  const { width, bits, lowFirst, texelBytes, planes, count } = one;
  const row = y * width * texelBytes;
  const put = (at: number, shift: number, mask: number, value: number): void => {
    out[at] = (out[at]! & ~(mask << shift)) | ((value & mask) << shift);
  };
  if (planes?.of === 'bits')
    for (let x = 0; x < width; x++)
      put(offset + (x >> 3), shiftOf(x, 1, lowFirst), 1, texels[row + x]! >> plane);
  else if (planes?.of === 'channels')
    for (let x = 0; x < width; x++) out[offset + x] = texels[row + x * texelBytes + plane]!;
  else if (planes) {
    for (let i = 0; i < one.unitsOf(plane); i++)
      for (let b = 0; b < texelBytes; b++)
        out[offset + i * texelBytes + b] = texels[row + (plane + i * count) * texelBytes + b]!;
  } else if (bits >= 8) out.set(texels.subarray(row, row + width * texelBytes), offset);
  else
    for (let x = 0; x < width; x++)
      put(offset + ((x * bits) >> 3), shiftOf(x, bits, lowFirst), (1 << bits) - 1, texels[row + x]!);
}
