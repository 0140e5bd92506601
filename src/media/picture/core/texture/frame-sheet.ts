import { FormatError } from '@/core/bytes';
import { keepUnchanged } from './keep-blocks';
import { layouts } from './layouts';
import type { PixelLayout } from './pixel-layout';
import { halved, type Pixels } from './pixels';
import { MOST_SIDE, sizeAt } from './texture';
import type { Frame } from './wrapped-frame';

/** Where a frame lies on the sheet that shows all of them. */
export interface PlacedFrame {
  readonly frame: Frame;
  readonly x: number;
  readonly y: number;
}

/** All frames of a file side by side, so that they are looked at, taken out and brought back as one picture. */
export interface FrameSheet {
  readonly width: number;
  readonly height: number;
  readonly layout: PixelLayout;
  readonly placed: readonly PlacedFrame[];
  /** The sheet as RGBA of eight bits; nothing between the frames. */
  pixels(): Uint8Array;
  /** The plain bytes of each frame for another sheet; what does not change keeps its bytes. */
  stored(sheet: Uint8Array): readonly Uint8Array[];
}

/** More pictures than any file of frames has. */
export const MOST_FRAMES = 4096;

/** Lays frames out in rows, in their order, so that the sheet is about as wide as it is high. */
export function placeFrames(frames: readonly Frame[]): {
  placed: PlacedFrame[];
  width: number;
  height: number;
} {
  const area = frames.reduce((sum, { width, height }) => sum + width * height, 0);
  const widest = Math.max(...frames.map(({ width }) => width));
  // Frames of one size fill whole rows.
  const limit = Math.max(widest, Math.ceil(Math.ceil(Math.sqrt(area)) / widest) * widest);
  const placed: PlacedFrame[] = [];
  let [x, y, rowHeight, width] = [0, 0, 0, 0];
  for (const frame of frames) {
    if (x > 0 && x + frame.width > limit) [x, y, rowHeight] = [0, y + rowHeight, 0];
    placed.push({ frame, x, y });
    x += frame.width;
    width = Math.max(width, x);
    rowHeight = Math.max(rowHeight, frame.height);
  }
  return { placed, width, height: y + rowHeight };
}

/** The sheet of some frames. Throws FormatError where it would be too large. */
export function sheetOf(frames: readonly Frame[], file: string): FrameSheet {
  const facts = { file, fieldPath: 'picture.several' };
  const { placed, width, height } = placeFrames(frames);
  if (width > MOST_SIDE || height > MOST_SIDE)
    throw new FormatError('budget', {
      ...facts,
      expected: `a sheet of at most ${MOST_SIDE} x ${MOST_SIDE} texels`,
      actual: `${width} x ${height}`,
    });
  const blit = (out: Uint8Array, { frame, x, y }: PlacedFrame, { data }: Pixels): void => {
    for (let row = 0; row < frame.height; row++)
      out.set(data.subarray(4 * row * frame.width, 4 * (row + 1) * frame.width), 4 * ((y + row) * width + x));
  };
  const cut = (sheet: Uint8Array, { frame, x, y }: PlacedFrame): Pixels => {
    const data = new Uint8Array(4 * frame.width * frame.height);
    for (let row = 0; row < frame.height; row++) {
      const from = 4 * ((y + row) * width + x);
      data.set(sheet.subarray(from, from + 4 * frame.width), 4 * row * frame.width);
    }
    return { width: frame.width, height: frame.height, data };
  };
  const shown = (frame: Frame): Pixels => frame.layout.decode(frame.texels(0), frame.width, frame.height);
  /** What a sheet becomes once its frames are coded. */
  const coded = (
    { data }: Pixels,
    encode: (layout: PixelLayout, pixels: Pixels) => Uint8Array,
  ): Uint8Array => {
    const out = new Uint8Array(4 * width * height);
    for (const one of placed) {
      const { layout } = one.frame;
      blit(out, one, layout.decode(encode(layout, cut(data, one)), one.frame.width, one.frame.height));
    }
    return out;
  };
  return {
    ...{ width, height, placed },
    layout: sheetLayout(frames, width, height, coded),
    pixels() {
      const out = new Uint8Array(4 * width * height);
      for (const one of placed) blit(out, one, shown(one.frame));
      return out;
    },
    stored: (sheet) => placed.map((one) => storedFrame(one.frame, shown(one.frame), cut(sheet, one))),
  };
}

/** The bytes of a frame with other texels: its own where nothing changed. */
function storedFrame(frame: Frame, before: Pixels, after: Pixels): Uint8Array {
  const { layout, levels } = frame;
  const was = Array.from({ length: levels }, (_, level) => frame.texels(level));
  if (before.data.every((value, i) => value === after.data[i])) return frame.stored(was);
  const images: Uint8Array[] = [];
  for (let level = 0, [old, now] = [before, after]; level < levels; level++) {
    const stored = { pixels: now, stored: encoded(layout, now) };
    images.push(keepUnchanged(layout, { pixels: old, stored: was[level]! }, stored).stored);
    if (level + 1 < levels) {
      const [wide, high] = [sizeAt(frame.width, level + 1), sizeAt(frame.height, level + 1)];
      old = layout.decode(was[level + 1]!, wide, high);
      now = halved(now);
    }
  }
  return frame.stored(images);
}

function encoded(layout: PixelLayout, pixels: Pixels): Uint8Array {
  if (layout.encode) return layout.encode(pixels);
  throw new FormatError('does-not-fit', {
    expected: 'a pixel layout that can be written',
    actual: layout.title,
  });
}

/** The layout of a sheet: RGBA to whoever looks, while coding gives what its frames can keep. */
function sheetLayout(
  frames: readonly Frame[],
  width: number,
  height: number,
  coded: (pixels: Pixels, encode: (layout: PixelLayout, pixels: Pixels) => Uint8Array) => Uint8Array,
): PixelLayout {
  const [first] = frames;
  const { layout } = first!;
  const same = frames.every((one) => one.layout.title === layout.title);
  const rgba = layouts.get('rgba8')!;
  const rank = { none: 0, 'one bit': 1, full: 2 } as const;
  const alpha = frames.map((one) => one.layout.alpha).sort((a, b) => rank[b] - rank[a])[0]!;
  const isFull = frames.reduce((sum, one) => sum + one.width * one.height, 0) === width * height;
  return {
    ...rgba,
    name: 'frames',
    title: `${same ? layout.title : 'several layouts'}, ${frames.length} frames`,
    alpha: alpha === 'none' && !isFull ? 'one bit' : alpha,
    isExact: frames.every((one) => one.layout.isExact),
    encode: (pixels) =>
      pixels.width === width && pixels.height === height ? coded(pixels, encoded) : rgba.encode!(pixels),
    ...(frames.some((one) => one.layout.dithered) && {
      dithered: (pixels: Pixels) => coded(pixels, (of, part) => of.dithered?.(part) ?? encoded(of, part)),
    }),
  };
}
