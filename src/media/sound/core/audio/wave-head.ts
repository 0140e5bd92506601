import { FormatError } from '@/core/bytes';

/** How samples are written. */
export type SampleSort = 'whole' | 'float' | 'a-law' | 'mu-law';

/** A chunk as it lies in a file. */
export interface WaveChunk {
  readonly name: string;
  /** Where its content begins, and how many bytes it has. */
  readonly offset: number;
  readonly length: number;
}

/** What a wave file's head says. */
export interface WaveFacts {
  readonly sort: SampleSort;
  readonly rate: number;
  /** Of one sample as it is stored. */
  readonly bits: number;
  readonly channels: number;
  /** Length in sample frames. */
  readonly frames: number;
  readonly dataOffset: number;
  /** The content of the format chunk, so that another file can be written in just this form. */
  readonly format: WaveChunk;
  /** All chunks but that and the samples, as far as the file has them. */
  readonly others: readonly WaveChunk[];
}

const FORMATS: Readonly<Record<number, SampleSort>> = { 1: 'whole', 3: 'float', 6: 'a-law', 7: 'mu-law' };
const EXTENSIBLE = 0xfffe;
/** What stands behind the format number in the GUID of a sub-format of an extensible one. */
const SUB_FORMAT = [0, 0, 0, 0, 0x10, 0, 0x80, 0, 0, 0xaa, 0, 0x38, 0x9b, 0x71];
/** Bits that samples of a sort may have. */
export const WIDTHS: Readonly<Record<SampleSort, readonly number[]>> = {
  whole: [8, 16, 24, 32],
  float: [32, 64],
  'a-law': [8],
  'mu-law': [8],
};
/** A length that stands in the chunk `ds64` instead (EBU Tech 3306). */
const WIDE = 0xffff_ffff;

const tag = (bytes: Uint8Array, at: number): string => String.fromCharCode(...bytes.subarray(at, at + 4));

type Format = Pick<WaveFacts, 'sort' | 'rate' | 'bits' | 'channels'>;

/**
 * Reads the head of a wave file (RIFF, or RF64 by EBU Tech 3306): whole numbers of 8 to 32 bits, floats of 32 and 64, A-law and µ-law,
 * also where the format is extensible and says so by its sub-format. Throws FormatError with the offset.
 */
export function readWaveFacts(bytes: Uint8Array, fileLength = bytes.length): WaveFacts {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const isWide = bytes.length >= 12 && tag(bytes, 0) === 'RF64';
  if (bytes.length < 12 || !(isWide || tag(bytes, 0) === 'RIFF') || tag(bytes, 8) !== 'WAVE')
    throw new FormatError('not-recognised', {
      byteOffset: 0,
      expected: 'a RIFF wave file',
      remedy: 'Save the sound as WAV',
    });
  let format: (Format & { chunk: WaveChunk }) | undefined;
  let data: WaveChunk | undefined;
  let wideData: number | undefined;
  const others: WaveChunk[] = [];
  for (let at = 12; at + 8 <= bytes.length;) {
    const name = tag(bytes, at);
    const stated = view.getUint32(at + 4, true);
    // Whoever wrote into a pipe could not come back to say how much it was: all that follows.
    const rest = fileLength - at - 8;
    const length = name === 'data' && stated === WIDE ? (isWide ? (wideData ?? stated) : rest) : stated;
    const chunk = { name, offset: at + 8, length };
    if (name === 'fmt ') format = { ...readFormat(view, chunk), chunk };
    else if (name === 'data') {
      if (!format) throw new FormatError('bad-value', { byteOffset: at, expected: "'fmt ' before 'data'" });
      data = chunk;
    } else if (name === 'ds64' && isWide && length >= 16 && at + 24 <= bytes.length)
      wideData = Number(view.getBigUint64(at + 16, true));
    else if (chunk.offset + length <= bytes.length) others.push(chunk);
    at += 8 + length + (length & 1);
  }
  if (!format || !data) throw new FormatError('part-missing', { expected: "a 'data' chunk", actual: 'none' });
  const available = Math.min(data.length, fileLength - data.offset);
  if (available < data.length)
    throw new FormatError('truncated', {
      byteOffset: data.offset - 4,
      fieldPath: 'data',
      expected: `${data.length} bytes`,
      actual: `${available}`,
    });
  const { chunk, ...plain } = format;
  const frames = Math.floor(data.length / ((plain.bits / 8) * plain.channels));
  return { ...plain, frames, dataOffset: data.offset, format: chunk, others };
}

function readFormat(view: DataView, { offset: at, length }: WaveChunk): Format {
  if (length < 16 || at + length > view.byteLength)
    throw new FormatError('truncated', { byteOffset: at, fieldPath: 'fmt' });
  const channels = view.getUint16(at + 2, true);
  const rate = view.getUint32(at + 4, true);
  const bits = view.getUint16(at + 14, true);
  const number = formatNumber(view, at, length);
  const sort = FORMATS[number];
  if (!sort)
    throw new FormatError('bad-value', {
      byteOffset: at,
      fieldPath: 'fmt.format',
      expected: 'whole numbers (1), floats (3), A-law (6) or mu-law (7)',
      actual: `${number}`,
      remedy: 'Save the sound as uncompressed WAV',
    });
  if (!WIDTHS[sort].includes(bits) || channels < 1 || channels > 8 || rate < 1000 || rate > 384_000)
    throw new FormatError('bad-value', {
      byteOffset: at,
      fieldPath: 'fmt',
      expected: `${WIDTHS[sort].join(', ')} bits, 1 to 8 channels`,
      actual: `${bits} bits, ${channels} channels, ${rate} Hz`,
    });
  return { sort, rate, channels, bits };
}

/** The format number, of an extensible one that of its sub-format. */
function formatNumber(view: DataView, at: number, length: number): number {
  const number = view.getUint16(at, true);
  if (number !== EXTENSIBLE) return number;
  const isKnown = length >= 40 && SUB_FORMAT.every((byte, i) => view.getUint8(at + 26 + i) === byte);
  if (isKnown) return view.getUint16(at + 24, true);
  throw new FormatError('bad-value', {
    byteOffset: at + 24,
    fieldPath: 'fmt.subFormat',
    expected: 'the GUID of whole numbers, floats, A-law or mu-law',
    actual: length < 40 ? `a format chunk of ${length} bytes` : 'another one',
    remedy: 'Save the sound as uncompressed WAV',
  });
}
