import { FormatError } from '@/core/bytes';

/** Pairs by which the next sample is foretold from the last two, in 256ths (RIFFNEW, Multimedia Data Standards Update, 1994). */
export const MS_COEFFICIENTS: readonly (readonly [number, number])[] = [
  [256, 0],
  [512, -256],
  [0, 0],
  [192, 64],
  [240, 0],
  [460, -208],
  [392, -232],
];
/** How much the step grows or shrinks by each code, in 256ths. */
const ADAPTION = [230, 230, 230, 230, 307, 409, 512, 614, 768, 614, 512, 409, 307, 230, 230, 230];
const LEAST_DELTA = 16;
/** A channel's head: number of the pair (u8), step, last sample and the one before (i16 each). */
const HEAD = 7;

/** How Microsoft's ADPCM lies in blocks. */
export interface MsLayout {
  readonly channels: number;
  /** Bytes of a block. */
  readonly block: number;
  readonly coefficients: readonly (readonly [number, number])[];
}

/** Samples of each channel in a block of so many bytes. */
export const msSamplesIn = ({ channels }: MsLayout, bytes: number): number =>
  bytes < HEAD * channels ? 0 : 2 + Math.floor((2 * (bytes - HEAD * channels)) / channels);

export function checkMs({ channels, block }: MsLayout, file: string): void {
  if (channels < 1 || channels > 2 || block <= HEAD * channels)
    throw new FormatError('bad-value', {
      ...{ file, fieldPath: 'sound.block' },
      expected: `blocks of more than ${HEAD * channels} bytes, of one channel or two`,
      actual: `${block} bytes, ${channels} channels`,
    });
}

const signed = (code: number): number => (code > 7 ? code - 16 : code);
const clamped = (value: number): number => (value > 32767 ? 32767 : value < -32768 ? -32768 : value);

/** Microsoft's ADPCM as samples of 16 bits, an array a channel; `frames` is how many are wanted at most. Throws FormatError at a head that cannot be. */
export function decodeMs(bytes: Uint8Array, layout: MsLayout, frames = Infinity): Int16Array[] {
  const { channels, block, coefficients } = layout;
  let total = 0;
  for (let at = 0; at < bytes.length; at += block)
    total += msSamplesIn(layout, Math.min(block, bytes.length - at));
  total = Math.min(total, frames);
  const out = Array.from({ length: channels }, () => new Int16Array(total));
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  let done = 0;
  for (let at = 0; at < bytes.length && done < total; at += block) {
    const length = Math.min(block, bytes.length - at);
    const count = Math.min(msSamplesIn(layout, length), total - done);
    if (count === 0) break;
    const pairs = Array.from({ length: channels }, (_, c) => {
      const pair = coefficients[bytes[at + c]!];
      if (pair) return pair;
      throw new FormatError('bad-value', {
        ...{ byteOffset: at + c, fieldPath: 'block.pair' },
        expected: `a number below ${coefficients.length}`,
        actual: `${bytes[at + c]}`,
      });
    });
    const word = (n: number, c: number): number =>
      view.getInt16(at + channels + 2 * (n * channels + c), true);
    const begin = at + HEAD * channels;
    for (let c = 0; c < channels; c++) {
      const [one, two] = pairs[c]!;
      let [delta, last, before] = [word(0, c), word(1, c), word(2, c)];
      const samples = out[c]!;
      samples[done] = before;
      if (count > 1) samples[done + 1] = last;
      for (let n = 2, nibble = c; n < count; n++, nibble += channels) {
        const byte = bytes[begin + (nibble >> 1)]!;
        const code = nibble & 1 ? byte & 15 : byte >> 4;
        const value = clamped(Math.trunc((last * one + before * two) / 256) + signed(code) * delta);
        before = last;
        last = value;
        delta = Math.max(LEAST_DELTA, (ADAPTION[code]! * delta) >> 8);
        samples[done + n] = value;
      }
    }
    done += count;
  }
  return out;
}

/** Samples as Microsoft's ADPCM: of each block the pair that comes nearest. The last block is filled up with its last sample. */
export function encodeMs(channels: readonly Int16Array[], layout: MsLayout): Uint8Array {
  const { block, coefficients } = layout;
  const perBlock = msSamplesIn(layout, block);
  const frames = channels[0]?.length ?? 0;
  const blocks = Math.ceil(frames / perBlock);
  const out = new Uint8Array(blocks * block);
  const view = new DataView(out.buffer);
  const count = channels.length;
  for (let i = 0; i < blocks; i++) {
    const at = i * block;
    for (const [c, samples] of channels.entries()) {
      const wanted = Int16Array.from(
        { length: perBlock },
        (_, n) => samples[Math.min(frames - 1, i * perBlock + n)]!,
      );
      const number = bestPair(wanted, coefficients);
      const best = { number, ...codesFor(wanted, coefficients[number]!) };
      out[at + c] = best.number;
      for (const [n, value] of [best.delta, wanted[1]!, wanted[0]!].entries())
        view.setInt16(at + count + 2 * (n * count + c), value, true);
      for (const [n, code] of best.codes.entries()) {
        const nibble = 2 * (at + HEAD * count) + n * count + c;
        out[nibble >> 1]! |= nibble & 1 ? code : code << 4;
      }
    }
  }
  return out;
}

/** The pair that foretells samples best, going by the samples themselves. */
function bestPair(wanted: Int16Array, coefficients: MsLayout['coefficients']): number {
  let [best, least] = [0, Infinity];
  for (const [number, [one, two]] of coefficients.entries()) {
    let error = 0;
    for (let n = 2; n < wanted.length && error < least; n++)
      error += Math.abs(wanted[n]! - (wanted[n - 1]! * one + wanted[n - 2]! * two) / 256);
    if (error < least) [best, least] = [number, error];
  }
  return best;
}

interface Coded {
  readonly delta: number;
  readonly codes: Uint8Array;
}

function codesFor(wanted: Int16Array, [one, two]: readonly [number, number]): Coded {
  let [last, before] = [wanted[1]!, wanted[0]!];
  // The step with which the first difference is about half of the largest code.
  const first = Math.abs((wanted[2] ?? last) - Math.trunc((last * one + before * two) / 256));
  const begin = Math.max(LEAST_DELTA, Math.min(32767, Math.round(first / 4)));
  const codes = new Uint8Array(wanted.length - 2);
  for (let n = 2, delta = begin; n < wanted.length; n++) {
    const expected = Math.trunc((last * one + before * two) / 256);
    const code = Math.max(-8, Math.min(7, Math.round((wanted[n]! - expected) / delta)));
    codes[n - 2] = code & 15;
    before = last;
    last = clamped(expected + code * delta);
    delta = Math.max(LEAST_DELTA, (ADAPTION[code & 15]! * delta) >> 8);
  }
  return { delta: begin, codes };
}
