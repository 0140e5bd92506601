import { equalBytes, FormatError } from '@/core/bytes';
import {
  ADPCM_TITLES,
  bytesOf,
  checkAdpcm,
  framesIn,
  fromWaveData,
  toWaveData,
  type Adpcm,
  type SampleForm,
} from './stored-samples';
import { plainForm, waveFile, otherChunks } from './wave';
import { readWaveFacts } from './wave-head';
import { isMark, movedMarks, type NewChunk } from './wave-marks';
import { dataOf, type WrappedSound } from './wrapped-sound';

/** Numbers of formats (RFC 2361). */
const MS = 2;
const IMA = 0x11;

interface Chunk {
  readonly name: string;
  readonly offset: number;
  readonly length: number;
}

/** The chunks of a RIFF wave file as far as they are there; undefined for another file. */
function chunksOf(bytes: Uint8Array): Chunk[] | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const tag = (at: number): string => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < 12 || tag(0) !== 'RIFF' || tag(8) !== 'WAVE') return undefined;
  const found: Chunk[] = [];
  for (let at = 12; at + 8 <= bytes.length;) {
    const length = view.getUint32(at + 4, true);
    found.push({ name: tag(at), offset: at + 8, length });
    at += 8 + length + (length & 1);
  }
  return found;
}

/** Whether the beginning of a file is that of a wave file in ADPCM. */
export function isAdpcmWave(head: Uint8Array): boolean {
  const format = chunksOf(head)?.find(({ name }) => name === 'fmt ');
  if (!format || format.offset + 2 > head.length) return false;
  const number = head[format.offset]! | (head[format.offset + 1]! << 8);
  return number === MS || number === IMA;
}

/**
 * A wave file in ADPCM (IMA or Microsoft's, in its blocks) as one of plain samples of 16 bits, and back. Undefined for a wave file in
 * another form. Throws FormatError with the offset where head and data do not agree.
 */
export function openAdpcmWave(bytes: Uint8Array): WrappedSound | undefined {
  if (!isAdpcmWave(bytes)) return undefined;
  const chunks = chunksOf(bytes)!;
  const [format, data] = ['fmt ', 'data'].map((name) => chunks.find((one) => one.name === name));
  const facts = { byteOffset: format!.offset, fieldPath: 'fmt' };
  if (!data) throw new FormatError('part-missing', { expected: "a 'data' chunk", actual: 'none' });
  if (format!.length < 16 || format!.offset + format!.length > bytes.length)
    throw new FormatError('truncated', facts);
  if (data.offset + data.length > bytes.length)
    throw new FormatError('truncated', {
      ...{ byteOffset: data.offset - 4, fieldPath: 'data' },
      expected: `${data.length} bytes`,
      actual: `${bytes.length - data.offset}`,
    });
  const view = new DataView(bytes.buffer, bytes.byteOffset + format!.offset, format!.length);
  const [number, channels, rate] = [
    view.getUint16(0, true),
    view.getUint16(2, true),
    view.getUint32(4, true),
  ];
  const block = view.getUint16(12, true);
  if (rate < 1000 || rate > 384_000 || channels < 1 || channels > 8)
    throw new FormatError('bad-value', {
      ...facts,
      expected: '1 to 8 channels, 1000 to 384000 Hz',
      actual: `${channels} channels, ${rate} Hz`,
    });
  const adpcm: Adpcm =
    number === IMA
      ? { codec: 'ima', channels, block, hasHead: true, isHighFirst: false, turn: 4 }
      : { codec: 'ms', channels, block, coefficients: coefficientsOf(view) };
  checkAdpcm(adpcm, '');
  const form: SampleForm = { sort: 'whole', bits: 16, channels, isBig: false, isSigned: true, adpcm };
  const fact = chunks.find(({ name, length }) => name === 'fact' && length >= 4);
  const said = fact && new DataView(bytes.buffer, bytes.byteOffset + fact.offset, 4).getUint32(0, true);
  const room = framesIn(form, data.length);
  const frames = said === undefined || said > room ? room : said;
  const stored = bytes.subarray(data.offset, data.offset + bytesOf(form, frames, data.length));
  const others = chunks
    .filter(
      ({ name, offset, length }) =>
        !['fmt ', 'data', 'fact'].includes(name) && offset + length <= bytes.length,
    )
    .map(({ name, offset, length }): NewChunk => ({ name, bytes: bytes.slice(offset, offset + length) }));
  const inner = waveFile(
    plainForm(rate, channels),
    frames,
    toWaveData(form, stored, frames),
    others.filter(isMark),
  );
  return {
    ...{ inner, title: `${ADPCM_TITLES[adpcm.codec]} in WAV`, lossy: ADPCM_TITLES[adpcm.codec] },
    rewrap(given) {
      if (equalBytes(given, inner)) return bytes;
      const now = readWaveFacts(given);
      if (now.sort !== 'whole' || now.bits !== 16 || now.channels !== channels || now.rate !== rate)
        throw new FormatError('does-not-fit', {
          expected: `${rate} Hz, ${channels} channels, 16 bits`,
          actual: `${now.rate} Hz, ${now.channels} channels, ${now.bits} bits`,
        });
      const samples = given.subarray(now.dataOffset, now.dataOffset + 2 * channels * now.frames);
      const own = otherChunks(given, now).filter(isMark);
      const marks =
        own.length > 0
          ? own
          : movedMarks(others.filter(isMark), { from: rate, to: rate, frames: now.frames });
      const head = {
        sort: 'a-law' as const,
        rate,
        bits: 4,
        format: bytes.slice(format!.offset, format!.offset + format!.length),
      };
      // Samples that did not change are not coded again.
      const coded = equalBytes(samples, dataOf(inner)) ? stored : fromWaveData(form, samples);
      // Any form but whole numbers gets the chunk that says how many samples there are.
      return waveFile(head, now.frames, coded, [...others.filter((one) => !isMark(one)), ...marks]);
    },
  };
}

/** The pairs that a head of Microsoft's lists behind its usual fields. */
function coefficientsOf(view: DataView): (readonly [number, number])[] {
  const count = view.byteLength >= 22 ? view.getUint16(20, true) : 0;
  if (count < 1 || count > 256 || view.byteLength < 22 + 4 * count)
    throw new FormatError('bad-value', {
      fieldPath: 'fmt.pairs',
      expected: 'pairs by which samples are foretold',
      actual: `${count} in ${view.byteLength} bytes`,
    });
  return Array.from({ length: count }, (_, i) => [
    view.getInt16(22 + 4 * i, true),
    view.getInt16(24 + 4 * i, true),
  ]);
}
