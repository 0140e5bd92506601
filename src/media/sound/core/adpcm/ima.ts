import { FormatError } from '@/core/bytes';

/** How much a step grows or shrinks by each code (IMA Digital Audio Focus Group, recommended practices, 1992, table 1). */
const INDEX_CHANGES = [-1, -1, -1, -1, 2, 4, 6, 8];
/** Sizes of steps (the same, table 2). */
// prettier-ignore
const STEPS = [
  7, 8, 9, 10, 11, 12, 13, 14, 16, 17, 19, 21, 23, 25, 28, 31, 34, 37, 41, 45, 50, 55, 60, 66, 73, 80, 88, 97, 107, 118, 130, 143, 157, 173,
  190, 209, 230, 253, 279, 307, 337, 371, 408, 449, 494, 544, 598, 658, 724, 796, 876, 963, 1060, 1166, 1282, 1411, 1552, 1707, 1878, 2066,
  2272, 2499, 2749, 3024, 3327, 3660, 4026, 4428, 4871, 5358, 5894, 6484, 7132, 7845, 8630, 9493, 10442, 11487, 12635, 13899, 15289, 16818,
  18500, 20350, 22385, 24623, 27086, 29794, 32767,
];
const MOST_INDEX = STEPS.length - 1;

/** How the codes of IMA ADPCM lie; made to be sent to threads. */
export interface ImaLayout {
  readonly channels: number;
  /** Bytes of a block with all its channels; 0 where there are no blocks. */
  readonly block: number;
  /** Whether each channel begins a block with its first sample (i16, lowest byte first), its step's number (u8) and a spare byte. */
  readonly hasHead: boolean;
  /** Whether the first of two codes is in the high half of a byte. */
  readonly isHighFirst: boolean;
  /** Bytes of a channel before the next channel's: 4 in wave files; 0 where all of a channel's in a block lie together. */
  readonly turn: number;
  /** What each channel's first difference is from, where no head says it; 0 is silence. */
  readonly start?: number;
}

const HEAD = 4;

/** What a code adds to a sample, and the number of the next step, for each step and code. */
const CHANGES = new Int32Array(STEPS.length * 16);
const NEXT = new Uint8Array(STEPS.length * 16);
for (const [index, size] of STEPS.entries())
  for (let code = 0; code < 16; code++) {
    const change =
      (size >> 3) + (code & 4 ? size : 0) + (code & 2 ? size >> 1 : 0) + (code & 1 ? size >> 2 : 0);
    CHANGES[16 * index + code] = code & 8 ? -change : change;
    NEXT[16 * index + code] = Math.max(0, Math.min(MOST_INDEX, index + INDEX_CHANGES[code & 7]!));
  }

/** The code that comes nearest to a difference at a step. */
function codeFor(index: number, difference: number): number {
  const size = STEPS[index]!;
  const far = difference < 0 ? -difference : difference;
  const code = far >= 2 * size ? 7 : Math.min(7, ((far * 4) / size) | 0);
  return difference < 0 ? code | 8 : code;
}

/** Codes of each channel in a block of so many bytes: one sample less than it has where there is a head. */
const codesIn = ({ channels, hasHead }: ImaLayout, bytes: number): number =>
  2 * Math.max(0, Math.floor((bytes - (hasHead ? HEAD * channels : 0)) / channels));

/** Samples of each channel in a block of so many bytes. */
export const imaSamplesIn = (layout: ImaLayout, bytes: number): number =>
  codesIn(layout, bytes) + (layout.hasHead ? 1 : 0);

/** Refuses layouts that cannot be. */
export function checkIma({ channels, block, hasHead, turn, start = 0 }: ImaLayout, file: string): void {
  const least = hasHead ? HEAD * channels : channels;
  const isFine =
    channels >= 1 && channels <= 8 && block >= 0 && (block === 0 ? !hasHead : block > least) && turn >= 0;
  if (!isFine)
    throw new FormatError('bad-value', {
      ...{ file, fieldPath: 'sound.block' },
      expected: `blocks of more than ${least} bytes for ${channels} channels, or none without heads`,
      actual: `${block}`,
    });
  if (start < -32768 || start > 32767 || (start !== 0 && hasHead))
    throw new FormatError('bad-value', {
      ...{ file, fieldPath: 'sound.start' },
      expected: hasHead ? 'none, since heads of blocks say it' : 'a sample of 16 bits',
      actual: `${start}`,
    });
}

/** Where the byte with the nth pair of codes of a channel lies in the codes of a block of so many bytes a channel. */
function placeOf({ channels, turn }: ImaLayout, channel: number, pair: number, each: number): number {
  if (turn === 0) return channel * each + pair;
  return (Math.floor(pair / turn) * channels + channel) * turn + (pair % turn);
}

/** The places of all pairs of codes of a channel in the codes of a block. */
const placesOf = (layout: ImaLayout, channel: number, pairs: number): Int32Array =>
  Int32Array.from({ length: pairs }, (_, pair) => placeOf(layout, channel, pair, pairs));

/**
 * IMA ADPCM as samples of 16 bits, an array a channel. A last block that is cut short gives what it has. `frames` is how many are wanted
 * at most.
 */
export function decodeIma(bytes: Uint8Array, layout: ImaLayout, frames = Infinity): Int16Array[] {
  const { channels, hasHead, isHighFirst, start = 0 } = layout;
  const block = layout.block || bytes.length;
  const all: number[] = [];
  for (let at = 0; at < bytes.length; at += block) all.push(Math.min(block, bytes.length - at));
  const total = Math.min(
    frames,
    all.reduce(
      (sum, length) => sum + (hasHead && length < HEAD * channels ? 0 : imaSamplesIn(layout, length)),
      0,
    ),
  );
  const out = Array.from({ length: channels }, () => new Int16Array(total));
  const places = out.map((_, c) => placesOf(layout, c, codesIn(layout, all[0] ?? 0) >> 1));
  // The first of two codes is moved down by so much, the second by the rest.
  const [early, late] = isHighFirst ? [4, 0] : [0, 4];
  let done = 0;
  for (const [i, length] of all.entries()) {
    const at = i * block;
    if (hasHead && length < HEAD * channels) break;
    const codes = at + (hasHead ? HEAD * channels : 0);
    const pairs = codesIn(layout, length) >> 1;
    for (let c = 0; c < channels; c++) {
      const samples = out[c]!;
      const place = pairs === places[c]!.length ? places[c]! : placesOf(layout, c, pairs);
      let [to, value, index] = [done, start, 0];
      if (hasHead) {
        const head = at + c * HEAD;
        value = ((bytes[head]! | (bytes[head + 1]! << 8)) << 16) >> 16;
        index = Math.min(MOST_INDEX, bytes[head + 2]!);
        if (to < total) samples[to++] = value;
      }
      for (let pair = 0; pair < pairs && to < total; pair++) {
        const byte = bytes[codes + place[pair]!]!;
        let at16 = 16 * index + ((byte >> early) & 15);
        value += CHANGES[at16]!;
        value = value > 32767 ? 32767 : value < -32768 ? -32768 : value;
        index = NEXT[at16]!;
        samples[to++] = value;
        if (to >= total) break;
        at16 = 16 * index + ((byte >> late) & 15);
        value += CHANGES[at16]!;
        value = value > 32767 ? 32767 : value < -32768 ? -32768 : value;
        index = NEXT[at16]!;
        samples[to++] = value;
      }
    }
    done += imaSamplesIn(layout, length);
  }
  return out;
}

/** Samples as IMA ADPCM. The last block is filled up with its last sample. */
export function encodeIma(channels: readonly Int16Array[], layout: ImaLayout): Uint8Array {
  const { hasHead, isHighFirst, start = 0 } = layout;
  const frames = channels[0]?.length ?? 0;
  const perBlock =
    layout.block === 0 ? Math.max(2, frames + (frames & 1)) : imaSamplesIn(layout, layout.block);
  const block = layout.block || (perBlock / 2) * layout.channels;
  const blocks = Math.ceil(frames / perBlock);
  const out = new Uint8Array(blocks * block);
  const count = codesIn(layout, block);
  const places = channels.map((_, c) => placesOf(layout, c, count >> 1));
  const [early, late] = isHighFirst ? [4, 0] : [0, 4];
  for (const [c, samples] of channels.entries()) {
    const place = places[c]!;
    let value = start;
    let index = hasHead ? firstIndex(samples) : 0;
    for (let i = 0; i < blocks; i++) {
      const at = i * block;
      const codes = at + (hasHead ? HEAD * layout.channels : 0);
      let from = i * perBlock;
      if (hasHead) {
        value = samples[from++]!;
        const head = at + c * HEAD;
        out[head] = value & 255;
        out[head + 1] = (value >> 8) & 255;
        out[head + 2] = index;
      } else if (layout.block > 0) [value, index] = [start, 0];
      for (let n = 0; n < count; n++, from++) {
        const code = codeFor(index, samples[from < frames ? from : frames - 1]! - value);
        const at16 = 16 * index + code;
        value += CHANGES[at16]!;
        value = value > 32767 ? 32767 : value < -32768 ? -32768 : value;
        index = NEXT[at16]!;
        out[codes + place[n >> 1]!]! |= code << (n & 1 ? late : early);
      }
    }
  }
  return out;
}

/** The step that the first difference of a sound is best begun with. */
function firstIndex(samples: Int16Array): number {
  const difference = Math.abs((samples[1] ?? 0) - (samples[0] ?? 0));
  const found = STEPS.findIndex((size) => size >= difference);
  return found < 0 ? MOST_INDEX : found;
}
