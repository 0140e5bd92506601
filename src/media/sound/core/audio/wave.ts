import { sampleReader, sampleWriter } from './samples';
import { readWaveFacts, type WaveFacts } from './wave-head';
import type { NewChunk } from './wave-marks';

/** Samples of a wave file: one array a channel, values from -1 to 1; floats may be beyond. */
export interface Sound {
  readonly rate: number;
  readonly bits: number;
  readonly channels: readonly Float32Array[];
}

/** Reads all samples. */
export function readWave(bytes: Uint8Array): Sound {
  const { sort, rate, bits, channels: count, frames, dataOffset } = readWaveFacts(bytes);
  const view = new DataView(bytes.buffer, bytes.byteOffset + dataOffset, bytes.length - dataOffset);
  const width = bits / 8;
  const read = sampleReader(sort, bits);
  const channels = Array.from({ length: count }, () => new Float32Array(frames));
  for (let c = 0; c < count; c++) {
    const channel = channels[c]!;
    for (let i = 0; i < frames; i++) channel[i] = read(view, (i * count + c) * width);
  }
  return { rate, bits, channels };
}

/** The chunks beside format and samples, with their bytes. */
export const otherChunks = (bytes: Uint8Array, { others }: WaveFacts): NewChunk[] =>
  others.map(({ name, offset, length }) => ({ name, bytes: bytes.slice(offset, offset + length) }));

/** What a wave file is to be like: rate, channels and form of samples, and the bytes of its format chunk. */
export interface WaveForm extends Pick<WaveFacts, 'sort' | 'rate' | 'bits'> {
  readonly format: Uint8Array;
}

/** The form that a wave file has. */
export const formOf = (bytes: Uint8Array, facts: WaveFacts): WaveForm => ({
  sort: facts.sort,
  rate: facts.rate,
  bits: facts.bits,
  format: bytes.slice(facts.format.offset, facts.format.offset + facts.format.length),
});

const FORMAT_NUMBERS: Readonly<Record<WaveFacts['sort'], number>> = {
  whole: 1,
  float: 3,
  'a-law': 6,
  'mu-law': 7,
};

/** The form of a file with samples of a sort: 16-bit whole numbers where nothing is said. */
export function plainForm(
  rate: number,
  channels: number,
  sort: WaveFacts['sort'] = 'whole',
  bits = 16,
): WaveForm {
  const width = bits / 8;
  const format = new Uint8Array(16);
  const view = new DataView(format.buffer);
  view.setUint16(0, FORMAT_NUMBERS[sort], true);
  view.setUint16(2, channels, true);
  view.setUint32(4, rate, true);
  view.setUint32(8, rate * width * channels, true);
  view.setUint16(12, width * channels, true);
  view.setUint16(14, bits, true);
  return { sort, rate, bits, format };
}

/** Writes a RIFF wave file in a form, with other chunks behind the samples. */
export function writeWave(
  channels: readonly Float32Array[],
  form: WaveForm,
  others: readonly NewChunk[] = [],
): Uint8Array {
  const { sort, bits } = form;
  const frames = channels[0]?.length ?? 0;
  const width = bits / 8;
  const samples = new Uint8Array(frames * channels.length * width);
  const view = new DataView(samples.buffer);
  const write = sampleWriter(sort, bits);
  channels.forEach((channel, c) => {
    for (let i = 0; i < frames; i++) write(view, (i * channels.length + c) * width, channel[i]!);
  });
  return waveFile(form, frames, samples, others);
}

/** The same file with other chunks in place of those beside format and samples, which stay as they are byte by byte. */
export function withChunks(bytes: Uint8Array, facts: WaveFacts, others: readonly NewChunk[]): Uint8Array {
  const { bits, channels, frames, dataOffset } = facts;
  const samples = bytes.subarray(dataOffset, dataOffset + (bits / 8) * channels * frames);
  return waveFile(formOf(bytes, facts), frames, samples, others);
}

/** A wave file of samples that are in their form already, lowest byte first. */
export function waveFile(
  { sort, format }: WaveForm,
  frames: number,
  samples: Uint8Array,
  others: readonly NewChunk[],
): Uint8Array {
  const fact = new Uint8Array(4);
  new DataView(fact.buffer).setUint32(0, frames, true);
  const chunks: NewChunk[] = [
    { name: 'fmt ', bytes: format },
    // Whatever is no plain numbers says how many frames it has.
    ...(sort === 'whole' ? [] : [{ name: 'fact', bytes: fact }]),
    { name: 'data', bytes: samples },
    ...others,
  ];
  const padded = (length: number): number => length + (length & 1);
  const length = chunks.reduce((sum, { bytes }) => sum + 8 + padded(bytes.length), 12);
  const out = new Uint8Array(length);
  const head = new DataView(out.buffer);
  const text = (at: number, value: string): void => {
    for (let i = 0; i < value.length; i++) out[at + i] = value.charCodeAt(i);
  };
  text(0, 'RIFF');
  head.setUint32(4, length - 8, true);
  text(8, 'WAVE');
  let at = 12;
  for (const { name, bytes } of chunks) {
    text(at, name);
    head.setUint32(at + 4, bytes.length, true);
    out.set(bytes, at + 8);
    at += 8 + padded(bytes.length);
  }
  return out;
}
