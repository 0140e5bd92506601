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
  /** Bytes of a block with all its channels; 0 where there are no blocks and the state begins as silence. */
  readonly block: number;
  /** Whether each channel begins a block with its first sample (i16, lowest byte first), its step's number (u8) and a spare byte. */
  readonly hasHead: boolean;
  /** Whether the first of two codes is in the high half of a byte. */
  readonly isHighFirst: boolean;
  /** Bytes of a channel before the next channel's: 4 in wave files; 0 where all of a channel's in a block lie together. */
  readonly turn: number;
}

const HEAD = 4;

interface State {
  value: number;
  index: number;
}

/** The next sample of a code. */
function step(state: State, code: number): number {
  const size = STEPS[state.index]!;
  let change = size >> 3;
  if (code & 4) change += size;
  if (code & 2) change += size >> 1;
  if (code & 1) change += size >> 2;
  const value = code & 8 ? state.value - change : state.value + change;
  state.value = value > 32767 ? 32767 : value < -32768 ? -32768 : value;
  const index = state.index + INDEX_CHANGES[code & 7]!;
  state.index = index < 0 ? 0 : index > MOST_INDEX ? MOST_INDEX : index;
  return state.value;
}

/** The code that comes nearest to a sample. */
function codeFor({ value, index }: State, wanted: number): number {
  const size = STEPS[index]!;
  const difference = Math.abs(wanted - value);
  const code = Math.min(7, Math.floor((difference * 4) / size));
  return wanted < value ? code | 8 : code;
}

/** Codes of each channel in a block of so many bytes: one sample less than it has where there is a head. */
const codesIn = ({ channels, hasHead }: ImaLayout, bytes: number): number =>
  2 * Math.max(0, Math.floor((bytes - (hasHead ? HEAD * channels : 0)) / channels));

/** Samples of each channel in a block of so many bytes. */
export const imaSamplesIn = (layout: ImaLayout, bytes: number): number =>
  codesIn(layout, bytes) + (layout.hasHead ? 1 : 0);

/** Refuses layouts that cannot be. */
export function checkIma({ channels, block, hasHead, turn }: ImaLayout, file: string): void {
  const least = hasHead ? HEAD * channels : channels;
  const isFine =
    channels >= 1 && channels <= 8 && block >= 0 && (block === 0 ? !hasHead : block > least) && turn >= 0;
  if (!isFine)
    throw new FormatError('bad-value', {
      ...{ file, fieldPath: 'sound.block' },
      expected: `blocks of more than ${least} bytes for ${channels} channels, or none without heads`,
      actual: `${block}`,
    });
}

/** Where the byte with the nth pair of codes of a channel lies in the codes of a block of so many bytes a channel. */
function placeOf({ channels, turn }: ImaLayout, channel: number, pair: number, each: number): number {
  if (turn === 0) return channel * each + pair;
  return (Math.floor(pair / turn) * channels + channel) * turn + (pair % turn);
}

/**
 * IMA ADPCM as samples of 16 bits, an array a channel. A last block that is cut short gives what it has. `frames` is how many are wanted
 * at most.
 */
export function decodeIma(bytes: Uint8Array, layout: ImaLayout, frames = Infinity): Int16Array[] {
  const { channels, hasHead, isHighFirst } = layout;
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
  let done = 0;
  for (const [i, length] of all.entries()) {
    const at = i * block;
    if (hasHead && length < HEAD * channels) break;
    const codes = at + (hasHead ? HEAD * channels : 0);
    const count = codesIn(layout, length);
    for (let c = 0; c < channels; c++) {
      const state: State = { value: 0, index: 0 };
      const samples = out[c]!;
      let to = done;
      if (hasHead) {
        const head = at + c * HEAD;
        state.value = ((bytes[head]! | (bytes[head + 1]! << 8)) << 16) >> 16;
        state.index = Math.min(MOST_INDEX, bytes[head + 2]!);
        if (to < total) samples[to++] = state.value;
      }
      for (let n = 0; n < count && to < total; n++) {
        const byte = bytes[codes + placeOf(layout, c, n >> 1, count >> 1)]!;
        const isHigh = ((n & 1) === 0) === isHighFirst;
        samples[to++] = step(state, isHigh ? byte >> 4 : byte & 15);
      }
    }
    done += imaSamplesIn(layout, length);
  }
  return out;
}

/** Samples as IMA ADPCM. The last block is filled up with its last sample. */
export function encodeIma(channels: readonly Int16Array[], layout: ImaLayout): Uint8Array {
  const { hasHead, isHighFirst } = layout;
  const frames = channels[0]?.length ?? 0;
  const perBlock =
    layout.block === 0 ? Math.max(2, frames + (frames & 1)) : imaSamplesIn(layout, layout.block);
  const block = layout.block || (perBlock / 2) * layout.channels;
  const blocks = Math.ceil(frames / perBlock);
  const out = new Uint8Array(blocks * block);
  const states = channels.map((): State => ({ value: 0, index: 0 }));
  for (let i = 0; i < blocks; i++) {
    const at = i * block;
    const codes = at + (hasHead ? HEAD * layout.channels : 0);
    const count = codesIn(layout, block);
    for (const [c, samples] of channels.entries()) {
      const state = states[c]!;
      const sample = (n: number): number => samples[Math.min(frames - 1, i * perBlock + n)]!;
      let from = 0;
      if (hasHead) {
        state.value = sample(from++);
        if (i === 0) state.index = firstIndex(samples);
        const head = at + c * HEAD;
        out[head] = state.value & 255;
        out[head + 1] = (state.value >> 8) & 255;
        out[head + 2] = state.index;
      }
      for (let n = 0; n < count; n++) {
        const code = codeFor(state, sample(from + n));
        step(state, code);
        const isHigh = ((n & 1) === 0) === isHighFirst;
        out[codes + placeOf(layout, c, n >> 1, count >> 1)]! |= isHigh ? code << 4 : code;
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
