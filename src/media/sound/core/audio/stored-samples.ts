import {
  checkIma,
  checkMs,
  decodeIma,
  decodeMs,
  encodeIma,
  encodeMs,
  imaSamplesIn,
  msSamplesIn,
  type ImaLayout,
  type MsLayout,
} from '../adpcm';
import type { SampleSort } from './wave-head';

/** Codes of few bits for each sample, in blocks. */
export type Adpcm = ({ readonly codec: 'ima' } & ImaLayout) | ({ readonly codec: 'ms' } & MsLayout);

/** How samples are kept. Those in codes are whole numbers of 16 bits once they are decoded. */
export interface SampleForm {
  readonly sort: SampleSort;
  readonly bits: number;
  readonly channels: number;
  readonly isBig: boolean;
  readonly isSigned: boolean;
  readonly adpcm: Adpcm | undefined;
}

export const ADPCM_TITLES = { ima: 'IMA ADPCM', ms: "Microsoft's ADPCM" } as const;

/** A form in words, as far as two ways to read the same bytes may differ in it. */
export function formTitle({ sort, bits, channels, isBig, isSigned, adpcm }: SampleForm): string {
  const parts: (string | false)[] = adpcm
    ? [
        ADPCM_TITLES[adpcm.codec],
        adpcm.codec === 'ima' && `first code in the ${adpcm.isHighFirst ? 'high' : 'low'} half`,
        adpcm.block > 0 && `blocks of ${adpcm.block} bytes`,
      ]
    : [
        sort === 'whole' ? `${bits} bits` : sort === 'float' ? `floats of ${bits} bits` : sort,
        sort === 'whole' && (isSigned ? 'signed' : 'unsigned'),
        bits > 8 && (isBig ? 'highest byte first' : 'lowest byte first'),
      ];
  return [...parts, channels > 1 && `${channels} channels`].filter(Boolean).join(', ');
}

/** Refuses blocks that cannot be. */
export const checkAdpcm = (adpcm: Adpcm, file: string): void =>
  adpcm.codec === 'ima' ? checkIma(adpcm, file) : checkMs(adpcm, file);

/** Bytes of a frame, one sample of each channel, in a wave file. */
export const frameBytes = ({ bits, channels }: Pick<SampleForm, 'bits' | 'channels'>): number =>
  (bits / 8) * channels;

const samplesIn = (adpcm: Adpcm, bytes: number): number =>
  adpcm.codec === 'ima' ? imaSamplesIn(adpcm, bytes) : msSamplesIn(adpcm, bytes);

/** Frames of a block that begins with samples of its own; 0 where nothing does. */
export const blockFrames = ({ adpcm }: SampleForm): number =>
  adpcm && adpcm.block > 0 && (adpcm.codec === 'ms' || adpcm.hasHead) ? samplesIn(adpcm, adpcm.block) : 0;

/** How many frames so many stored bytes hold. */
export function framesIn(form: SampleForm, bytes: number): number {
  const { adpcm } = form;
  if (!adpcm) return Math.floor(Math.max(0, bytes) / frameBytes(form));
  if (adpcm.block === 0) return samplesIn(adpcm, bytes);
  const whole = Math.floor(bytes / adpcm.block);
  const rest = bytes - whole * adpcm.block;
  const least = adpcm.codec === 'ima' && adpcm.hasHead ? 4 * adpcm.channels : 1;
  return whole * samplesIn(adpcm, adpcm.block) + (rest >= least ? samplesIn(adpcm, rest) : 0);
}

/** How many bytes so many frames take, at most `available`: a last block may be cut short. */
export function bytesOf(form: SampleForm, frames: number, available: number): number {
  const { adpcm } = form;
  if (!adpcm) return frames * frameBytes(form);
  if (adpcm.block === 0) return Math.min(available, Math.ceil(frames / 2) * adpcm.channels);
  return Math.min(available, Math.ceil(frames / samplesIn(adpcm, adpcm.block)) * adpcm.block);
}

/** Turns the bytes of each number round. */
function swapped(bytes: Uint8Array, width: number): void {
  for (let at = 0; at + width <= bytes.length; at += width) bytes.subarray(at, at + width).reverse();
}

/** Samples as a wave file has them, lowest byte first and without a sign in eight bits only; or `back` again. */
function turned({ sort, bits, isBig, isSigned }: SampleForm, bytes: Uint8Array, isBack: boolean): Uint8Array {
  const out = bytes.slice();
  const width = bits / 8;
  if (isBig && !isBack) swapped(out, width);
  // The sign of a number is its highest bit, turned over.
  if (sort === 'whole' && isSigned !== bits > 8)
    for (let at = width - 1; at < out.length; at += width) out[at]! ^= 0x80;
  if (isBig && isBack) swapped(out, width);
  return out;
}

/** Stored samples as the data of a wave file. */
export function toWaveData(form: SampleForm, stored: Uint8Array, frames: number): Uint8Array {
  const { adpcm } = form;
  if (!adpcm) return turned(form, stored, false);
  const channels = adpcm.codec === 'ima' ? decodeIma(stored, adpcm, frames) : decodeMs(stored, adpcm, frames);
  const out = new Uint8Array(frames * frameBytes(form));
  const view = new DataView(out.buffer);
  for (const [c, samples] of channels.entries())
    for (const [i, value] of samples.entries()) view.setInt16(2 * (i * channels.length + c), value, true);
  return out;
}

/** The data of a wave file as samples are stored. */
export function fromWaveData(form: SampleForm, data: Uint8Array): Uint8Array {
  const { adpcm } = form;
  if (!adpcm) return turned(form, data, true);
  const count = adpcm.channels;
  const view = new DataView(data.buffer, data.byteOffset, data.length);
  const channels = Array.from({ length: count }, (_, c) =>
    Int16Array.from({ length: data.length / 2 / count }, (__, i) => view.getInt16(2 * (i * count + c), true)),
  );
  return adpcm.codec === 'ima' ? encodeIma(channels, adpcm) : encodeMs(channels, adpcm);
}
