import { layouts, sizeAt } from '../texture';
import { findBlockRuns, type BlockRun } from './block-runs';

/** A picture that may lie in a file. Places in bytes, sizes in texels. */
export interface Guess {
  readonly layout: string;
  readonly offset: number;
  readonly width: number;
  readonly height: number;
  readonly levels: number;
  /** Length in bytes, of all levels. */
  readonly length: number;
  /** How unlike neighbouring texels are, in parts of how unlike all are; the lower, the more of a picture it is. */
  readonly roughness: number;
}

/** Of colours from 0 to 2. */
const LEAST_SPREAD = 0.02;
/** Stretches that are looked at, the longest first; other data may have more of them by chance than anyone has pictures. */
const MOST_RUNS = 2000;
/** Pictures are far below; bytes that are none, read as one, are about 1. */
const MOST_ROUGHNESS = 0.8;
const SIDES = [16, 32, 64, 128, 256, 512, 1024, 2048, 4096];
/** How far from a stretch's beginning a picture may begin: chance puts about one block before it in order. */
const MOST_SLACK = 12;

const blocksOf = (width: number, height: number): number => Math.ceil(width / 4) * Math.ceil(height / 4);

function levelsFor(width: number, height: number, blocks: number): { levels: number; used: number } {
  let [levels, used] = [0, 0];
  for (; ; levels++) {
    const more = blocksOf(sizeAt(width, levels), sizeAt(height, levels));
    if (used + more > blocks) break;
    used += more;
    if (sizeAt(width, levels) === 1 && sizeAt(height, levels) === 1) return { levels: levels + 1, used };
  }
  return { levels, used };
}

/**
 * Guesses which picture lies in a stretch of blocks, of the usual sizes that fill it up to a few blocks, with or without smaller levels.
 * Its width is the one at which blocks are most alike to those above them, against the widths just beside; where nothing tells
 * widths apart, and for the place where it begins, it is the one whose neighbouring blocks are most alike. Undefined where no
 * size fits, or where all is one colour.
 */
export function guessShape(bytes: Uint8Array, run: BlockRun): Guess | undefined {
  const each = run.layout.startsWith('bc1') ? 8 : 16;
  const colours = coloursOf(bytes, run, each);
  const tells = new Map<number, number>();
  let best: { shape: Omit<Guess, 'roughness'>; tell: number; used: number; unlike: number } | undefined;
  for (const { width, height, levels, used } of shapesOf(run.blocks)) {
    let tell = tells.get(width);
    if (tell === undefined) tells.set(width, (tell = sharpness(colours, width / 4, run.blocks)));
    if (best && (tell < best.tell || (tell === best.tell && used < best.used))) continue;
    const first = blocksOf(width, height);
    for (let skip = 0; skip <= run.blocks - used; skip++) {
      const spread = spreadOf(colours.subarray(3 * skip, 3 * (skip + first)));
      // One colour throughout is hardly a picture; alpha that is full throughout looks so as well.
      if (spread < LEAST_SPREAD) continue;
      const unlike = unlikeness(colours, skip, width / 4, height / 4) / spread;
      const isSameShape = best?.tell === tell && best.used === used;
      if (isSameShape && unlike >= best!.unlike) continue;
      const offset = run.offset + skip * each;
      const shape = { layout: run.layout, offset, width, height, levels, length: used * each };
      best = { tell, used, unlike, shape };
    }
  }
  return best && { ...best.shape, roughness: roughness(bytes, best.shape) };
}

interface Shape {
  readonly width: number;
  readonly height: number;
  readonly levels: number;
  /** Blocks of all levels. */
  readonly used: number;
}

/** The usual sizes that fill so many blocks, up to a few. */
function shapesOf(blocks: number): Shape[] {
  const shapes: Shape[] = [];
  for (const width of SIDES)
    for (const height of SIDES) {
      if (width > 8 * height || height > 8 * width) continue;
      const first = blocksOf(width, height);
      if (first > blocks) continue;
      const all = levelsFor(width, height, blocks);
      for (const { levels, used } of all.levels > 1 ? [all, { levels: 1, used: first }] : [all])
        if (blocks - used <= MOST_SLACK) shapes.push({ width, height, levels, used });
    }
  return shapes;
}

/** How much more alike blocks are to those a row above at this width, in blocks, than at the widths beside it; 0 and less tell nothing. */
function sharpness(colours: Float32Array, width: number, blocks: number): number {
  const apart = (at: number): number => meanApart(colours, at, blocks - at);
  const here = apart(width);
  return (apart(width - 1) + apart(width + 1)) / 2 - here;
}

/** Of two guesses about the same bytes one that is so many times as long counts as the better one. */
const LONGER = 2;

/**
 * Finds pictures of blocks that no table tells of. Of guesses that share bytes the one stays whose neighbouring texels are most
 * alike: taken in a wrong layout, or from a wrong place, a picture falls apart.
 */
export function findBlockPictures(bytes: Uint8Array): Guess[] {
  const guesses = [...findBlockRuns(bytes)]
    .sort((a, b) => b.blocks - a.blocks)
    .slice(0, MOST_RUNS)
    .map((run) => guessShape(bytes, run))
    .filter((guess): guess is Guess => guess !== undefined && guess.roughness < MOST_ROUGHNESS)
    .sort((a, b) => isBetter(a, b));
  const kept: Guess[] = [];
  for (const guess of guesses)
    if (
      kept.every(
        (other) => guess.offset >= other.offset + other.length || guess.offset + guess.length <= other.offset,
      )
    )
      kept.push(guess);
  return kept.sort((a, b) => a.offset - b.offset);
}

/** What is read in a rarer layout has to be so much more alike to be believed. */
const DOUBT: Readonly<Record<string, number>> = { bc1: 1, bc3: 1.2, 'bc1-swapped': 1.2, 'bc3-swapped': 1.4 };

function isBetter(a: Guess, b: Guess): number {
  if (a.length >= LONGER * b.length) return -1;
  if (b.length >= LONGER * a.length) return 1;
  return a.roughness * DOUBT[a.layout]! - b.roughness * DOUBT[b.layout]!;
}

/** Texels that are compared at most. */
const MOST_COMPARED = 1 << 20;

/**
 * How unlike texels are to those beside and below them, in parts of how unlike they are to their mean; noise is above 1. Of colour and
 * alpha the worse counts: read half a block off, colours may be smooth where alpha is none.
 */
function roughness(
  bytes: Uint8Array,
  { layout: name, offset, width, height, length }: Omit<Guess, 'roughness'>,
): number {
  const { data } = layouts.get(name)!.decode(bytes.subarray(offset, offset + length), width, height);
  const step = Math.max(1, Math.ceil((width * height) / MOST_COMPARED));
  const mean = [0, 0, 0, 0];
  let count = 0;
  for (let y = 0; y + 1 < height; y += step)
    for (let x = 0; x < width; x++, count++)
      for (let c = 0; c < 4; c++) mean[c]! += data[4 * (y * width + x) + c]!;
  const [near, far] = [
    [0, 0, 0, 0],
    [0, 0, 0, 0],
  ];
  for (let y = 0; y + 1 < height; y += step)
    for (let x = 0; x + 1 < width; x++) {
      const at = 4 * (y * width + x);
      for (let c = 0; c < 4; c++) {
        const value = data[at + c]!;
        near[c]! += Math.abs(value - data[at + 4 + c]!) + Math.abs(value - data[at + 4 * width + c]!);
        far[c]! += 2 * Math.abs(value - mean[c]! / count);
      }
    }
  const colour = near[0]! + near[1]! + near[2]!;
  const spread = far[0]! + far[1]! + far[2]!;
  const isSeeThrough = far[3]! > 2 * count;
  return spread === 0 ? Infinity : Math.max(colour / spread, isSeeThrough ? near[3]! / far[3]! : 0);
}

/** The mean of both ends of each block, as red, green and blue. */
function coloursOf(bytes: Uint8Array, { layout, offset, blocks }: BlockRun, each: number): Float32Array {
  const [low, high] = layout.endsWith('swapped') ? [1, 0] : [0, 1];
  const out = new Float32Array(blocks * 3);
  for (let i = 0; i < blocks; i++) {
    const at = offset + i * each + (each - 8);
    for (const end of [at, at + 2]) {
      const value = bytes[end + low]! | (bytes[end + high]! << 8);
      out[3 * i]! += (value >> 11) / 31;
      out[3 * i + 1]! += ((value >> 5) & 63) / 63;
      out[3 * i + 2]! += (value & 31) / 31;
    }
  }
  return out;
}

/** How far blocks are from their mean colour, on average over all of them. */
function spreadOf(colours: Float32Array): number {
  const count = colours.length / 3;
  const mean = [0, 0, 0];
  for (let i = 0; i < colours.length; i++) mean[i % 3]! += colours[i]! / count;
  let sum = 0;
  for (let i = 0; i < colours.length; i++) sum += Math.abs(colours[i]! - mean[i % 3]!);
  return sum / count;
}

/** How unlike blocks are to those below and beside them; ends of rows are not beside beginnings of the next. */
function unlikeness(colours: Float32Array, from: number, across: number, down: number): number {
  let [sum, count] = [0, 0];
  const add = (a: number, b: number): void => {
    for (let c = 0; c < 3; c++) sum += Math.abs(colours[3 * a + c]! - colours[3 * b + c]!);
    count++;
  };
  for (let y = 0; y < down; y++)
    for (let x = 0; x < across; x++) {
      const at = from + y * across + x;
      if (x + 1 < across) add(at, at + 1);
      if (y + 1 < down) add(at, at + across);
    }
  return sum / Math.max(1, count);
}

/**
 * Widths, in texels, at which the blocks of a stretch are most like those above them; the best first. Neighbours are always alike, so
 * what counts is how much more alike blocks are at a width than at those just beside it.
 */
export function likelyWidths(bytes: Uint8Array, run: BlockRun, most = 6): number[] {
  const each = run.layout.startsWith('bc1') ? 8 : 16;
  const colours = coloursOf(bytes, run, each);
  const last = Math.min(1024, run.blocks >> 1) + 1;
  const apart = Array.from({ length: last + 1 }, (_, width) => meanApart(colours, width, run.blocks - width));
  const scores: [width: number, score: number][] = [];
  for (let width = 3; width < last; width++)
    scores.push([width, (apart[width - 1]! + apart[width + 1]!) / 2 - apart[width]!]);
  return scores
    .filter(([, score]) => score > 0)
    .sort((a, b) => b[1] - a[1])
    .slice(0, most)
    .map(([width]) => width * 4);
}

function meanApart(colours: Float32Array, width: number, count: number): number {
  let sum = 0;
  for (let i = 0; i < 3 * count; i++) sum += Math.abs(colours[i]! - colours[i + 3 * width]!);
  return sum / Math.max(1, count);
}
