import { FormatError } from '../../bytes';

/** Samples of a wave file: one array a channel, values from -1 to 1. */
export interface Sound {
  readonly rate: number;
  readonly bits: number;
  readonly channels: readonly Float32Array[];
}

/** What a wave file's head says. */
export interface WaveFacts {
  readonly rate: number;
  readonly bits: number;
  readonly channels: number;
  /** Length in sample frames. */
  readonly frames: number;
  readonly dataOffset: number;
}

const PCM = 1;
const EXTENSIBLE = 0xfffe;

const tag = (bytes: Uint8Array, at: number): string => String.fromCharCode(...bytes.subarray(at, at + 4));

/** Reads the head of a RIFF wave file with whole-number samples. Throws FormatError with the offset. */
export function readWaveFacts(bytes: Uint8Array): WaveFacts {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  if (bytes.length < 12 || tag(bytes, 0) !== 'RIFF' || tag(bytes, 8) !== 'WAVE')
    throw new FormatError('not-recognised', {
      byteOffset: 0,
      expected: 'a RIFF wave file',
      remedy: 'Save the sound as WAV',
    });
  let format: Pick<WaveFacts, 'rate' | 'bits' | 'channels'> | undefined;
  for (let at = 12; at + 8 <= bytes.length;) {
    const length = view.getUint32(at + 4, true);
    const name = tag(bytes, at);
    if (name === 'fmt ') format = readFormat(view, at + 8, length);
    if (name === 'data') {
      if (!format) throw new FormatError('bad-value', { byteOffset: at, expected: "'fmt ' before 'data'" });
      const available = Math.min(length, bytes.length - at - 8);
      if (available < length)
        throw new FormatError('truncated', {
          byteOffset: at + 4,
          fieldPath: 'data',
          expected: `${length} bytes`,
          actual: `${available}`,
        });
      const frame = (format.bits / 8) * format.channels;
      return { ...format, frames: Math.floor(length / frame), dataOffset: at + 8 };
    }
    at += 8 + length + (length & 1);
  }
  throw new FormatError('part-missing', { expected: "a 'data' chunk", actual: 'none' });
}

function readFormat(
  view: DataView,
  at: number,
  length: number,
): Pick<WaveFacts, 'rate' | 'bits' | 'channels'> {
  if (length < 16 || at + 16 > view.byteLength)
    throw new FormatError('truncated', { byteOffset: at, fieldPath: 'fmt' });
  const format = view.getUint16(at, true);
  const channels = view.getUint16(at + 2, true);
  const rate = view.getUint32(at + 4, true);
  const bits = view.getUint16(at + 14, true);
  if (format !== PCM && format !== EXTENSIBLE)
    throw new FormatError('bad-value', {
      byteOffset: at,
      fieldPath: 'fmt.format',
      expected: 'plain samples (1)',
      actual: `${format}`,
      remedy: 'Save the sound as uncompressed WAV',
    });
  if (![8, 16, 24, 32].includes(bits) || channels < 1 || channels > 8 || rate < 1000 || rate > 384000)
    throw new FormatError('bad-value', {
      byteOffset: at,
      fieldPath: 'fmt',
      expected: '8, 16, 24 or 32 bits, 1 to 8 channels',
      actual: `${bits} bits, ${channels} channels, ${rate} Hz`,
    });
  return { rate, channels, bits };
}

/** Reads all samples. */
export function readWave(bytes: Uint8Array): Sound {
  const facts = readWaveFacts(bytes);
  const { bits, channels: count, frames, dataOffset } = facts;
  const view = new DataView(bytes.buffer, bytes.byteOffset + dataOffset);
  const width = bits / 8;
  const scale = 2 ** (bits - 1);
  const channels = Array.from({ length: count }, () => new Float32Array(frames));
  for (let i = 0; i < frames; i++)
    for (let c = 0; c < count; c++) channels[c]![i] = sampleAt(view, (i * count + c) * width, bits) / scale;
  return { rate: facts.rate, bits, channels };
}

function sampleAt(view: DataView, at: number, bits: number): number {
  if (bits === 8) return view.getUint8(at) - 128;
  if (bits === 16) return view.getInt16(at, true);
  if (bits === 24) return view.getUint16(at, true) | (view.getInt8(at + 2) << 16);
  return view.getInt32(at, true);
}

/** Writes a RIFF wave file of 16-bit samples. */
export function writeWave16({ rate, channels }: Pick<Sound, 'rate' | 'channels'>): Uint8Array {
  const frames = channels[0]?.length ?? 0;
  const frame = 2 * channels.length;
  const bytes = new Uint8Array(44 + frames * frame);
  const view = new DataView(bytes.buffer);
  const text = (at: number, value: string): void =>
    [...value].forEach((sign, i) => view.setUint8(at + i, sign.charCodeAt(0)));
  text(0, 'RIFF');
  view.setUint32(4, 36 + frames * frame, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, PCM, true);
  view.setUint16(22, channels.length, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, rate * frame, true);
  view.setUint16(32, frame, true);
  view.setUint16(34, 16, true);
  text(36, 'data');
  view.setUint32(40, frames * frame, true);
  for (let i = 0; i < frames; i++)
    channels.forEach((channel, c) =>
      view.setInt16(
        44 + i * frame + 2 * c,
        Math.max(-32768, Math.min(32767, Math.round(channel[i]! * 32768))),
        true,
      ),
    );
  return bytes;
}

/** Half the width of the windowed sinc in input samples at the lower of both rates. */
const REACH = 16;

/** The sound at another rate, by a sinc under a Hann window with the pass band of the lower rate. */
export function resample(samples: Float32Array, from: number, to: number): Float32Array {
  if (from === to) return samples;
  const out = new Float32Array(Math.max(1, Math.round((samples.length * to) / from)));
  const band = Math.min(1, to / from);
  const reach = Math.ceil(REACH / band);
  for (let i = 0; i < out.length; i++) {
    const centre = (i * from) / to;
    const first = Math.max(0, Math.ceil(centre - reach));
    const last = Math.min(samples.length - 1, Math.floor(centre + reach));
    let sum = 0;
    for (let k = first; k <= last; k++) {
      const x = k - centre;
      const phase = Math.PI * x * band;
      const sinc = x === 0 ? 1 : Math.sin(phase) / phase;
      sum += samples[k]! * sinc * (0.5 + 0.5 * Math.cos((Math.PI * x) / reach));
    }
    out[i] = sum * band;
  }
  return out;
}

/** All channels mixed to one, or one copied to many. */
export function remix(channels: readonly Float32Array[], count: number): Float32Array[] {
  if (channels.length === count) return [...channels];
  const mixed = new Float32Array(channels[0]?.length ?? 0);
  for (const channel of channels) channel.forEach((value, i) => (mixed[i]! += value / channels.length));
  return Array.from({ length: count }, () => mixed);
}
