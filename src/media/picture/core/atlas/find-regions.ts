import { FormatError } from '@/core/bytes';
import { usesAlpha, type Pixels } from '../texture';
import { MOST_REGIONS, type Region } from './regions';

export interface FindOptions {
  /** Texels with more alpha than this are part of something; of opaque pictures, those that differ more from the background. */
  readonly threshold?: number;
  /** Parts with no more than this many empty texels between them are one. */
  readonly gap?: number;
  /** What is smaller on both sides is passed over, as dust. */
  readonly least?: number;
}

/** Stretches of rows that are held at once; a sheet has hundreds of thousands at most. */
const MOST_RUNS = 3_000_000;

interface Run {
  readonly from: number;
  /** Behind the last texel. */
  readonly to: number;
  readonly row: number;
  group: number;
}

/**
 * Finds the parts of a picture by the empty gaps around them: texels that touch, or are no farther apart than `gap`, are one part.
 * Row by row, runs of texels are joined with those of the rows above (connected components by union-find; Hoshen and Kopelman,
 * 1976). Parts come from top to bottom, numbered from 1. Empty where the picture has no gaps.
 */
export function findRegions(
  pixels: Pixels,
  { threshold = 0, gap = 1, least = 2 }: FindOptions = {},
): Region[] {
  const isThere = partTest(pixels, threshold);
  if (!isThere) return [];
  const parents: number[] = [];
  const find = (one: number): number => {
    while (parents[one] !== one) one = parents[one] = parents[parents[one]!]!;
    return one;
  };
  const near: Run[][] = [];
  const boxes = new Map<number, [left: number, top: number, right: number, bottom: number]>();
  const all: Run[] = [];
  const noisy = new FormatError('bad-value', {
    expected: `at most ${MOST_REGIONS} parts`,
    why: 'the picture has noise where it should be empty',
    remedy: 'Take a greater gap, or a higher threshold',
  });
  for (let y = 0; y < pixels.height; y++) {
    const runs = runsOf(isThere, pixels.width, y, gap);
    for (const run of runs) {
      run.group = parents.length;
      parents.push(run.group);
      for (const above of near)
        for (const other of above) {
          if (other.from > run.to + gap) break;
          if (other.to + gap >= run.from) parents[find(other.group)] = find(run.group);
        }
      all.push(run);
      if (all.length > MOST_RUNS) throw noisy;
    }
    near.unshift(runs);
    if (near.length > gap + 1) near.pop();
  }
  for (const { from, to, row, group } of all) {
    const root = find(group);
    const box = boxes.get(root);
    if (!box) boxes.set(root, [from, row, to, row + 1]);
    else {
      box[0] = Math.min(box[0], from);
      box[2] = Math.max(box[2], to);
      box[3] = row + 1;
    }
  }
  const found = [...boxes.values()]
    .filter(([left, top, right, bottom]) => right - left >= least || bottom - top >= least)
    .sort((a, b) => a[1] - b[1] || a[0] - b[0]);
  if (found.length > MOST_REGIONS) throw noisy.with({ actual: `${found.length}` });
  return found.map(([left, top, right, bottom], i) => ({
    name: `part_${String(i + 1).padStart(String(found.length).length, '0')}`,
    x: left,
    y: top,
    width: right - left,
    height: bottom - top,
  }));
}

/** Stretches of a row that are part of something, with gaps that do not part them filled. */
function runsOf(isThere: (at: number) => boolean, width: number, row: number, gap: number): Run[] {
  const runs: Run[] = [];
  let from = -1;
  let last = -1;
  for (let x = 0; x < width; x++) {
    if (!isThere(row * width + x)) continue;
    if (from >= 0 && x - last - 1 > gap) {
      runs.push({ from, to: last + 1, row, group: 0 });
      from = -1;
    }
    if (from < 0) from = x;
    last = x;
  }
  if (from >= 0) runs.push({ from, to: last + 1, row, group: 0 });
  return runs;
}

/** Tells what is empty by alpha, or by the colour that the corners share; undefined where nothing tells. */
function partTest({ width, height, data }: Pixels, threshold: number): ((at: number) => boolean) | undefined {
  if (usesAlpha({ width, height, data })) return (at) => data[4 * at + 3]! > threshold;
  const corners = [0, width - 1, (height - 1) * width, height * width - 1];
  const colourAt = (at: number): number =>
    (data[4 * at]! << 16) | (data[4 * at + 1]! << 8) | data[4 * at + 2]!;
  const counts = new Map<number, number>();
  for (const at of corners) counts.set(colourAt(at), (counts.get(colourAt(at)) ?? 0) + 1);
  const [colour, count] = [...counts].sort((a, b) => b[1] - a[1])[0]!;
  if (count < 3) return undefined;
  const background = [(colour >> 16) & 255, (colour >> 8) & 255, colour & 255];
  return (at) => background.some((value, c) => Math.abs(data[4 * at + c]! - value) > threshold);
}
