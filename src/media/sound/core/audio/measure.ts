import type { BytesRef } from '@/core/bytes';
import { sampleReader, type ReadSample } from './samples';
import { PrintTaker, type SoundPrint } from '../print';
import { readWaveFacts, type WaveFacts } from './wave-head';

/** What a sound is measured as; lengths are seconds. */
export interface SoundMeasure {
  readonly seconds: number;
  readonly rate: number;
  readonly channels: number;
  /** Root mean square of what is heard, in dB below full scale; -Infinity for silence. */
  readonly level: number;
  /** The farthest that any sample is from nothing; 1 is full scale. */
  readonly peak: number;
  /** Whether it was cut off at full scale, by more samples on end than a peak has. */
  readonly isClipped: boolean;
  /** What it sounds like; undefined where nothing is heard. */
  readonly print: SoundPrint | undefined;
}

/** Blocks of so many seconds are heard or not, as in ITU-R BS.1770, whose absolute gate this is. */
const BLOCK_SECONDS = 0.05;
const GATE = 10 ** (-70 / 10);
const HEAD_BYTES = 64 << 10;
/** Floats beyond all measure are not louder than this. */
const MOST_DB = 99;
/** So many samples on end at full scale are no peak any more. */
const CLIPPED_RUN = 4;
const FULL = 32767 / 32768;

/**
 * Measures a wave file of plain samples as it streams by: length, loudness of what is heard, and whether it is clipped. Throws FormatError where it
 * is none.
 */
export function measureWave(wave: BytesRef): SoundMeasure {
  let meter: Meter | undefined;
  let head: Uint8Array = NOTHING;
  for (const chunk of wave.chunks()) {
    if (meter) {
      meter.add(chunk);
      continue;
    }
    head = joined(head, chunk);
    if (head.length < Math.min(HEAD_BYTES, wave.length)) continue;
    const facts = readWaveFacts(head, wave.length);
    meter = new Meter(facts);
    meter.add(head.subarray(facts.dataOffset));
  }
  return (meter ?? new Meter(readWaveFacts(head, wave.length))).done();
}

const NOTHING = new Uint8Array(0);

function joined(a: Uint8Array, b: Uint8Array): Uint8Array {
  const out = new Uint8Array(a.length + b.length);
  out.set(a);
  out.set(b, a.length);
  return out;
}

/** Measures samples as they come, in pieces that may end within one. */
class Meter {
  private readonly read: ReadSample;
  private readonly width: number;
  private readonly block: number;
  private readonly runs: Uint32Array;
  private rest: Uint8Array = NOTHING;
  /** Samples that are still to come. */
  private left: number;
  private channel = 0;
  private sum = 0;
  private count = 0;
  private square = 0;
  private inBlock = 0;
  private isClipped = false;
  private peak = 0;
  private readonly print: PrintTaker;
  /** The sample of all channels so far. */
  private mixed = 0;

  constructor(private readonly facts: WaveFacts) {
    const { rate, channels, bits, sort, frames } = facts;
    this.read = sampleReader(sort, bits);
    this.width = bits / 8;
    this.block = Math.max(1, Math.round(rate * BLOCK_SECONDS)) * channels;
    this.runs = new Uint32Array(channels);
    this.left = frames * channels;
    this.print = new PrintTaker(rate, frames);
  }

  add(piece: Uint8Array): void {
    const bytes = this.rest.length > 0 ? joined(this.rest, piece) : piece;
    const { width, read, runs } = this;
    const count = Math.min(this.left, Math.floor(bytes.length / width));
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
    for (let i = 0; i < count; i++) {
      const value = read(view, i * width);
      const size = value < 0 ? -value : value;
      const { channel } = this;
      runs[channel] = size >= FULL ? runs[channel]! + 1 : 0;
      if (runs[channel]! >= CLIPPED_RUN) this.isClipped = true;
      // Floats may be no numbers at all.
      if (size < Infinity) {
        this.square += value * value;
        this.mixed += value;
        if (size > this.peak) this.peak = size;
      }
      this.channel = channel + 1 === runs.length ? 0 : channel + 1;
      if (this.channel === 0) {
        this.print.add(this.mixed);
        this.mixed = 0;
      }
      if (++this.inBlock === this.block) this.closeBlock();
    }
    this.left -= count;
    this.rest = this.left > 0 ? bytes.slice(count * width) : NOTHING;
  }

  private closeBlock(): void {
    if (this.inBlock > 0 && this.square / this.inBlock >= GATE) {
      this.sum += this.square;
      this.count += this.inBlock;
    }
    this.square = this.inBlock = 0;
  }

  done(): SoundMeasure {
    this.closeBlock();
    const { rate, channels, frames } = this.facts;
    const level =
      this.count === 0 ? Number.NEGATIVE_INFINITY : Math.min(MOST_DB, 10 * Math.log10(this.sum / this.count));
    return {
      seconds: frames / rate,
      rate,
      channels,
      level,
      isClipped: this.isClipped,
      peak: this.peak,
      print: this.print.done(),
    };
  }
}
