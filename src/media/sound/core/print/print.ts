import type { Kind } from '@/core/kinds';
import FFT from 'fft.js';

/**
 * What a sound sounds like from afar: how loud it is in so many bands of pitch, in so many parts of the time in which it is heard, a byte each, parts
 * behind one another; half decibels above `DEEPEST` dB below its loudest field. How loud all of it is, its codec and its rate hardly change it. After
 * the features of J. Haitsma and T. Kalker, "A Highly Robust Audio Fingerprinting System" (2002), whose bits are kept as levels here since a game's
 * sounds are short.
 */
export type SoundPrint = Uint8Array;

const PARTS = 8;
const BANDS = 12;
export const PRINT_BYTES = PARTS * BANDS;

/** Hertz; what is above falls away in codecs, and what is below is not heard of small speakers. */
const LOWEST = 120;
const HIGHEST = 3800;
/** Fields softer than the loudest by more dB are as soft as this. */
const DEEPEST = 45;
/** A frame is near to so many seconds. */
const FRAME_SECONDS = 0.023;
/** Of longer sounds frames are left out, so that no more are held. */
const MOST_FRAMES = 2048;

/** Takes the print of a sound as its samples come, all channels in one. */
export class PrintTaker {
  private readonly size: number;
  private readonly hop: number;
  private readonly fft: FFT;
  private readonly window: Float64Array;
  private readonly out: number[];
  /** The first bin of each band and that behind the last. */
  private readonly edges: readonly number[];
  private readonly frame: Float64Array;
  private readonly frames: Float64Array[] = [];
  private filled = 0;
  private skip = 0;

  /** `length` is how many samples come at most. */
  constructor(rate: number, length: number) {
    const size = 2 ** Math.max(5, Math.min(14, Math.round(Math.log2(rate * FRAME_SECONDS))));
    this.size = size;
    this.hop = Math.max(size / 2, Math.ceil(length / MOST_FRAMES));
    this.fft = new FFT(size);
    this.out = this.fft.createComplexArray();
    this.window = Float64Array.from(
      { length: size },
      (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size),
    );
    this.edges = Array.from({ length: BANDS + 1 }, (_, i) =>
      Math.round((LOWEST * (HIGHEST / LOWEST) ** (i / BANDS) * size) / rate),
    );
    this.frame = new Float64Array(size);
  }

  add(sample: number): void {
    if (this.skip > 0) {
      this.skip--;
      return;
    }
    this.frame[this.filled++] = sample;
    if (this.filled === this.size) this.close();
  }

  private close(): void {
    const { size, hop, frame, fft, out, window, edges } = this;
    frame.fill(0, this.filled);
    fft.realTransform(
      out,
      frame.map((value, i) => value * window[i]!),
    );
    const bands = new Float64Array(BANDS);
    for (let band = 0; band < BANDS; band++) {
      const to = Math.min(size / 2, Math.max(edges[band]! + 1, edges[band + 1]!));
      for (let bin = edges[band]!; bin < to; bin++)
        bands[band]! += out[2 * bin]! ** 2 + out[2 * bin + 1]! ** 2;
    }
    this.frames.push(bands);
    const kept = Math.max(0, size - hop);
    frame.copyWithin(0, size - kept);
    this.filled = kept;
    this.skip = Math.max(0, hop - size);
  }

  /** Undefined where nothing is heard. */
  done(): SoundPrint | undefined {
    if (this.frames.length === 0 && this.filled > 0) this.close();
    return printOf(this.frames);
  }
}

function printOf(frames: readonly Float64Array[]): SoundPrint | undefined {
  const whole = frames.map((bands) => bands.reduce((sum, value) => sum + value, 0));
  const loudest = whole.reduce((most, value) => Math.max(most, value), 0);
  if (!(loudest > 0 && loudest < Infinity)) return undefined;
  const isHeard = (value: number): boolean => value >= loudest * 10 ** (-DEEPEST / 10);
  const from = whole.findIndex(isHeard);
  const heard = frames.slice(from, whole.findLastIndex(isHeard) + 1);
  const fields = new Float64Array(PRINT_BYTES);
  for (let part = 0; part < PARTS; part++) {
    const first = (part * heard.length) / PARTS;
    const last = ((part + 1) * heard.length) / PARTS;
    for (let i = Math.floor(first); i < last; i++) {
      // Of short sounds a frame belongs to several parts.
      const share = (Math.min(last, i + 1) - Math.max(first, i)) / (last - first);
      heard[i]!.forEach((value, band) => (fields[part * BANDS + band]! += share * value));
    }
  }
  const top = 10 * Math.log10(fields.reduce((most, value) => Math.max(most, value), 0));
  return Uint8Array.from(fields, (value) =>
    value > 0 ? Math.round(2 * Math.max(0, DEEPEST - top + 10 * Math.log10(value))) : 0,
  );
}

/** Whether these are the bytes of a print; none is kept as nothing. */
export const isPrint = (bytes: Uint8Array): boolean => bytes.some((value) => value > 0);

/** How far two prints are apart: the root mean square of what their fields differ by, in dB. */
export function printsApart(a: SoundPrint, b: SoundPrint): number {
  let sum = 0;
  for (let i = 0; i < PRINT_BYTES; i++) sum += (a[i]! - b[i]!) ** 2;
  return Math.sqrt(sum / PRINT_BYTES) / 2;
}

/** Prints that are apart by no more dB are of sounds that sound alike. */
export const SOUNDS_ALIKE = 5;
/** Neither may be longer than the other by more than this. */
/** What is held against each other. */
export const OF_SOUNDS: Kind = 'sound';
export const ALIKE_LENGTHS = 1.25;
