import { openArchive, type Archive, type Entry } from '@/core/archive';
import { collect, equalBytes, FormatError, memorySource } from '@/core/bytes';
import { emitted } from '@/core/wrapped';
import type { Primitives } from '@/core/primitives';
import {
  asCount,
  asInteger,
  asText,
  asTruth,
  flattened,
  type Compiled,
  type Script,
  type SoundType,
} from '@/core/script';
import { headOf, putNumber } from '@/core/wrapped';
import { MS_COEFFICIENTS } from '../adpcm';
import {
  ADPCM_TITLES,
  bytesOf,
  checkAdpcm,
  frameBytes,
  framesIn,
  fromWaveData,
  toWaveData,
  type Adpcm,
  type SampleForm,
} from './stored-samples';
import { otherChunks, plainForm, waveFile } from './wave';
import { readWaveFacts, WIDTHS, type SampleSort, type WaveFacts } from './wave-head';
import { cuesOf, loopsOf, markChunks, type Loop } from './wave-marks';

/** A sound that a format script with a `sound` section describes, unwrapped. */
export interface WrappedSound {
  /** A wave file of its samples with its loop and markers, or the very file that the wrapper holds. */
  readonly inner: Uint8Array;
  readonly title: string;
  /** The wrapper with another sound of the same form, every field that depends on it recomputed. */
  rewrap(inner: Uint8Array): Uint8Array;
  /** Of a codec that loses something what it is called; undefined where nothing is lost. */
  readonly lossy: string | undefined;
}

/** Words for how samples are kept. */
const SORTS = {
  pcm: 'whole',
  float: 'float',
  'a-law': 'a-law',
  'mu-law': 'mu-law',
  'ima-adpcm': 'whole',
  'ms-adpcm': 'whole',
  file: 'file',
} as const satisfies Readonly<Record<string, SampleSort | 'file'>>;
type Codec = keyof typeof SORTS;
const CODED: Readonly<Partial<Record<Codec, Adpcm['codec']>>> = { 'ima-adpcm': 'ima', 'ms-adpcm': 'ms' };

/** How samples lie in the bytes of an entry; made to be sent to threads. */
export interface Samples extends SampleForm {
  readonly rate: number;
  /** Bytes before the first sample, and the number of frames. */
  readonly first: number;
  readonly frames: number;
  readonly loop: Loop | undefined;
  readonly markers: readonly number[];
}

/** Opens a wrapped sound; throws FormatError where head and samples do not agree. */
export function openSound(
  script: Script,
  bytes: Uint8Array,
  name: string,
  primitives: Primitives,
): WrappedSound {
  const { sound } = script;
  if (!sound) throw new FormatError('script-wrong', { expected: "a 'sound' section", actual: 'none' });
  const open = (of: Uint8Array): Archive => openArchive(script, memorySource(of, name), { primitives });
  const archive = open(bytes);
  const [entry] = archive.entries;
  if (!entry)
    throw new FormatError('part-missing', {
      file: name,
      fieldPath: 'sound',
      expected: 'an entry',
      actual: 'none',
    });
  const plain = collect(archive.plain(entry));
  const codec = codecOf(asText(sound.codec.run(archive.context, entry.row)), name);
  const { title } = script;
  if (codec === 'file') {
    const first = sound.first ? asCount(sound.first.run(archive.context, entry.row)) : 0;
    return {
      ...{ title, inner: plain.subarray(first), lossy: undefined },
      rewrap: (inner) => emitted(archive, [joined(plain.subarray(0, first), inner)]),
    };
  }
  const samples = samplesOf(sound, archive, entry, codec, plain.length, name);
  const behind = samples.first + bytesOf(samples, samples.frames, plain.length - samples.first);
  const before = waved(samples, plain.subarray(samples.first, behind));
  return {
    title,
    inner: before,
    lossy: lossyTitle(samples),
    rewrap(inner) {
      if (equalBytes(inner, before)) return bytes;
      const now = sameForm(inner, samples, name);
      const data = inner.subarray(now.dataOffset, now.dataOffset + frameBytes(samples) * now.frames);
      const old = plain.subarray(samples.first, behind);
      const stored = equalBytes(data, dataOf(before)) ? old : fromWaveData(samples, data);
      const body = joined(
        plain.subarray(0, samples.first),
        stored,
        // What is said to lie behind the samples stays; a file that is nothing but samples ends with them.
        sound.samples ? plain.subarray(behind) : NOTHING,
      );
      const chunks = otherChunks(inner, now);
      const wanted: Said = {
        // What fills up a last block counts as samples where nothing says how many there are.
        frames: sound.samples ? now.frames : framesIn(samples, stored.length),
        loop: loopsOf(chunks)[0] ?? samples.loop,
        markers: cuesOf(chunks),
      };
      const made = emitted(archive, [body]);
      const wrong = disagreement(sound, open(made), codec, wanted, name);
      if (wrong === undefined) return made;
      // The head does not follow by itself, so its numbers are set.
      const other = open(bytes);
      const isSet = setNumbers(sound, other, wanted);
      const again = isSet ? emitted(other, [body]) : undefined;
      const still = again && disagreement(sound, open(again), codec, wanted, name);
      if (again && still === undefined) return again;
      throw new FormatError('does-not-fit', {
        ...{ file: name, fieldPath: `sound.${wrong}`, expected: 'a head that can say so' },
        why: `${title} does not tell which number stands for it`,
        remedy:
          wrong === 'samples' ? `Give a sound of ${samples.frames} samples, as the original has` : undefined,
      });
    },
  };
}

const NOTHING = new Uint8Array(0);

/** The head of a wave file that has just this form. Throws FormatError where it has another. */
function sameForm(inner: Uint8Array, samples: Samples, file: string): WaveFacts {
  const now = readWaveFacts(inner);
  for (const key of ['sort', 'rate', 'channels', 'bits'] as const)
    if (now[key] !== samples[key])
      throw new FormatError('does-not-fit', {
        ...{ file, fieldPath: `sound.${key}` },
        expected: `${samples[key]}`,
        actual: `${now[key]}`,
      });
  return now;
}

/** The samples of a wave file that was made here. */
export function dataOf(wave: Uint8Array): Uint8Array {
  const { dataOffset, bits, channels, frames } = readWaveFacts(wave);
  return wave.subarray(dataOffset, dataOffset + (bits / 8) * channels * frames);
}

const lossyTitle = ({ adpcm }: SampleForm): string | undefined => adpcm && ADPCM_TITLES[adpcm.codec];

function codecOf(word: string, file: string): Codec {
  if (Object.hasOwn(SORTS, word)) return word as Codec;
  throw new FormatError('bad-value', {
    ...{ file, fieldPath: 'sound.codec', expected: Object.keys(SORTS).join(', '), actual: word },
  });
}

function samplesOf(
  sound: SoundType,
  archive: Archive,
  { row }: Entry,
  codec: Exclude<Codec, 'file'>,
  length: number,
  file: string,
): Samples {
  const { context } = archive;
  const count = (of: Compiled | undefined): number | undefined => of && asCount(of.run(context, row));
  const facts = { file, fieldPath: 'sound' };
  const sort = SORTS[codec];
  const coded = CODED[codec];
  const rate = count(sound.rate) ?? 44_100;
  const channels = count(sound.channels) ?? 1;
  const bits = coded ? 16 : (count(sound.bits) ?? WIDTHS[sort][sort === 'whole' ? 1 : 0]!);
  if (!WIDTHS[sort].includes(bits) || channels < 1 || channels > 8 || rate < 1000 || rate > 384_000)
    throw new FormatError('bad-value', {
      ...facts,
      expected: `${WIDTHS[sort].join(', ')} bits, 1 to 8 channels, 1000 to 384000 Hz`,
      actual: `${bits} bits, ${channels} channels, ${rate} Hz`,
    });
  const block = count(sound.block) ?? 0;
  const truth = (of: Compiled | undefined, otherwise: boolean): boolean =>
    of ? asTruth(of.run(context, row)) : otherwise;
  const adpcm: Adpcm | undefined =
    coded === 'ima'
      ? {
          ...{ codec: 'ima', channels, block },
          hasHead: truth(sound.heads, block > 0),
          isHighFirst: truth(sound.highFirst, false),
          turn: count(sound.turn) ?? 4,
          start: sound.start ? Number(asInteger(sound.start.run(context, row))) : 0,
        }
      : coded && { codec: 'ms', channels, block, coefficients: MS_COEFFICIENTS };
  if (adpcm) checkAdpcm(adpcm, file);
  const form: SampleForm = {
    ...{ sort, bits, channels, adpcm, isBig: sound.order === 'big' },
    isSigned: truth(sound.isSigned, bits > 8),
  };
  const first = count(sound.first) ?? 0;
  const room = first > length ? 0 : framesIn(form, length - first);
  const frames = count(sound.samples) ?? room;
  if (first > length || frames > room)
    throw new FormatError('truncated', {
      ...facts,
      expected: `${first} bytes and ${frames} samples${adpcm ? '' : ` of ${frameBytes(form)} bytes`}`,
      actual: `${length} bytes`,
    });
  return {
    ...form,
    ...{ rate, first, frames },
    ...marksOf(sound, archive, row, frames),
  };
}

/** Loop and markers, as far as they lie within the sound. */
function marksOf(
  sound: SoundType,
  archive: Archive,
  row: Entry['row'],
  frames: number,
): Pick<Samples, 'loop' | 'markers'> {
  const { context } = archive;
  const from = sound.loop && Number(asInteger(sound.loop.from.run(context, row)));
  const to = sound.loop && Number(asInteger(sound.loop.to.run(context, row)));
  const isLoop = from !== undefined && to !== undefined && from >= 0 && to > from && to < frames;
  const list = sound.markers && flattened(sound.markers.run(context, row), context);
  const places = Array.from({ length: list?.length ?? 0 }, (_, i) => asCount(list!.at(i)));
  return {
    loop: isLoop ? { from, to } : undefined,
    markers: places.filter((place) => place < frames),
  };
}

const waved = (samples: Samples, bytes: Uint8Array): Uint8Array => {
  const { sort, rate, channels, bits, frames, loop, markers } = samples;
  return waveFile(
    plainForm(rate, channels, sort, bits),
    frames,
    toWaveData(samples, bytes, frames),
    markChunks(rate, loop, markers),
  );
};

function joined(...parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

/** What a head has to say of a sound. */
interface Said {
  readonly frames: number;
  readonly loop: Loop | undefined;
  readonly markers: readonly number[];
}

/** What an archive does not say as it should: undefined where all holds. Markers cannot be set; where a script has them they must hold. */
function disagreement(
  sound: SoundType,
  archive: Archive,
  codec: Exclude<Codec, 'file'>,
  wanted: Said,
  file: string,
): 'samples' | 'loop' | undefined {
  let says: Samples;
  try {
    says = samplesOf(sound, archive, archive.entries[0]!, codec, archive.entries[0]!.size, file);
  } catch (error) {
    if (error instanceof FormatError) return 'samples';
    throw error;
  }
  if (says.frames !== wanted.frames) return 'samples';
  const isSameLoop = says.loop?.from === wanted.loop?.from && says.loop?.to === wanted.loop?.to;
  return sound.loop && wanted.loop && !isSameLoop ? 'loop' : undefined;
}

function setNumbers(sound: SoundType, archive: Archive, wanted: Said): boolean {
  const head = headOf(archive);
  if (!head) return false;
  const put = (of: Compiled | undefined, value: number | undefined): boolean =>
    !of || value === undefined || putNumber(archive, head, of, value);
  return (
    put(sound.samples, wanted.frames) &&
    put(sound.loop?.from, wanted.loop?.from) &&
    put(sound.loop?.to, wanted.loop?.to)
  );
}

/** A sound that an archive describes in its rows; made to be sent to threads. */
export interface SoundSpec {
  readonly file: string;
  readonly title: string;
  /** Undefined where the entry is a whole file. */
  readonly samples: Samples | undefined;
  /** Bytes before the sound. */
  readonly first: number;
  /** Whether the archive follows when the sound gets another length. */
  readonly isLengthFree: boolean;
  /** How many bytes the entry has that this is said of. */
  readonly length: number;
}

/** What an archive says of one of its entries. Throws FormatError where that and its bytes do not agree. */
export function soundSpecOf(sound: SoundType, archive: Archive, entry: Entry, file: string): SoundSpec {
  const { context, script } = archive;
  const { row } = entry;
  const codec = codecOf(asText(sound.codec.run(context, row)), file);
  const derived = new Set(
    row?.type.fields.flatMap(({ name, role }) => (role.sort === 'derived' ? [name] : [])),
  );
  const { samples } = sound;
  return {
    ...{ file, title: script.title, length: entry.size },
    samples: codec === 'file' ? undefined : samplesOf(sound, archive, entry, codec, entry.size, file),
    first: sound.first ? asCount(sound.first.run(context, row)) : 0,
    isLengthFree:
      !samples || (samples.mentions.size > 0 && [...samples.mentions].every((name) => derived.has(name))),
  };
}

/** A sound from the plain bytes of its entry. */
export function describedSound(
  { file, title, samples: said, first, isLengthFree, length }: SoundSpec,
  plain: Uint8Array,
): WrappedSound {
  if (!said)
    return {
      ...{ title, inner: plain.subarray(first), lossy: undefined },
      rewrap: (inner) => joined(plain.subarray(0, first), inner),
    };
  // Bytes of another length, where the archive follows, are as many samples as they hold.
  const isOther = isLengthFree && plain.length !== length;
  const frames = isOther ? framesIn(said, plain.length - first) : said.frames;
  const samples = { ...said, frames };
  const behind = first + bytesOf(samples, frames, plain.length - first);
  const before = waved(samples, plain.subarray(first, behind));
  return {
    title,
    inner: before,
    lossy: lossyTitle(samples),
    rewrap(inner) {
      if (equalBytes(inner, before)) return plain;
      const now = sameForm(inner, samples, file);
      if (now.frames !== samples.frames && !isLengthFree)
        throw new FormatError('does-not-fit', {
          ...{
            file,
            fieldPath: 'sound.samples',
            expected: `${samples.frames} samples`,
            actual: `${now.frames}`,
          },
          why: 'the archive says how many there are in a number that does not follow by itself',
          remedy: `Give a sound of ${samples.frames} samples, as the original has`,
        });
      const data = inner.subarray(now.dataOffset, now.dataOffset + frameBytes(samples) * now.frames);
      // Samples that did not change are not coded again, whatever became of the marks beside them.
      if (equalBytes(data, dataOf(before))) return plain;
      return joined(plain.subarray(0, first), fromWaveData(samples, data), plain.subarray(behind));
    },
  };
}
