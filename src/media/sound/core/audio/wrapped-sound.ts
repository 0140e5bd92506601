import { openArchive, type Archive, type Entry } from '@/core/archive';
import { collect, equalBytes, FormatError, memorySource } from '@/core/bytes';
import { emitted } from '@/core/wrapped';
import type { Primitives } from '@/core/primitives';
import { asCount, asText, type Compiled, type Script, type SoundType } from '@/core/script';
import { headOf, putNumber } from '@/core/wrapped';
import {
  boundsOf,
  codecOf,
  codingOf,
  samplesOf,
  type Coding,
  type LengthBounds,
  type SampleCodec,
  type Samples,
} from './described-samples';
import { beginningOf, likeliestWay, type WayTaken } from './likeliest-way';
import {
  ADPCM_TITLES,
  bytesOf,
  frameBytes,
  framesIn,
  fromWaveData,
  toWaveData,
  type SampleForm,
} from './stored-samples';
import { otherChunks, plainForm, waveFile } from './wave';
import { readWaveFacts, type WaveFacts } from './wave-head';
import { cuesOf, loopsOf, markChunks, type Loop } from './wave-marks';

/** Decodes a sound that a program beside this one reads into a wave file of plain samples. Throws FormatError where it cannot. */
export type DecodeCoded = (coding: Coding, bytes: Uint8Array, file: string) => Uint8Array;

/** A sound that a format script with a `sound` section describes, unwrapped. */
export interface WrappedSound {
  /** A wave file of its samples with its loop and markers, or the very file that the wrapper holds. */
  readonly inner: Uint8Array;
  readonly title: string;
  /** The wrapper with another sound of the same form, every field that depends on it recomputed. */
  rewrap(inner: Uint8Array): Uint8Array;
  /** Of a codec that loses something what it is called; undefined where nothing is lost. */
  readonly lossy: string | undefined;
  /** Where its bytes could be read in several ways: which was taken, and how unlike a sound each is. */
  readonly way?: WayTaken | undefined;
  /** What the program expects of its length. */
  readonly bounds?: LengthBounds | undefined;
  /** Of one that is only read here: what it is wrapped as, and the wave file that it is heard as, where it is given in that very form. Throws FormatError where it is not. */
  asCoded?(given: Uint8Array): { readonly made: Uint8Array; readonly inner: Uint8Array };
}

interface CodedWithin {
  readonly file: string;
  readonly title: string;
  readonly decode: DecodeCoded | undefined;
  readonly bounds: LengthBounds | undefined;
  /** All of it as it is. */
  readonly whole: Uint8Array;
  wrap(coded: Uint8Array): Uint8Array;
}

/** A sound in a form that a program beside this one reads, and nothing here writes. */
function codedSound(
  coding: Coding,
  coded: Uint8Array,
  { file, title, decode, bounds, whole, wrap }: CodedWithin,
): WrappedSound {
  if (!decode)
    throw new FormatError('codec-failed', {
      file,
      why: `${coding.demuxer} is decoded by ffmpeg, which is not lent here`,
    });
  const inner = decode(coding, coded, file);
  return {
    ...{ inner, title, bounds, lossy: (coding.decoder ?? coding.demuxer).toUpperCase() },
    rewrap(given) {
      if (equalBytes(given, inner)) return whole;
      throw new FormatError('does-not-fit', {
        ...{ file, fieldPath: 'sound.codec', expected: `a sound in the form of ${coding.demuxer}` },
        why: `${title} keeps it in a form that is only read here`,
        remedy: 'Give one that another program has written in that form',
      });
    },
    asCoded: (given) => ({ inner: decode(coding, given, file), made: wrap(given) }),
  };
}

/** Opens a wrapped sound; throws FormatError where head and samples do not agree. */
export function openSound(
  script: Script,
  bytes: Uint8Array,
  name: string,
  primitives: Primitives,
  { said, decode }: { readonly said?: number | undefined; readonly decode?: DecodeCoded } = {},
): WrappedSound {
  if (!script.sound) throw new FormatError('script-wrong', { expected: "a 'sound' section", actual: 'none' });
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
  const way = likeliestWay(script.sound, archive, entry, plain, name, said);
  const { sound } = way;
  const codec = codecOf(asText(sound.codec.run(archive.context, entry.row)), name);
  const { title } = script;
  const bounds = boundsOf(sound, archive, entry);
  if (codec === 'file') {
    const first = sound.first ? asCount(sound.first.run(archive.context, entry.row)) : 0;
    return {
      ...{ title, inner: plain.subarray(first), lossy: undefined, bounds },
      rewrap: (inner) => emitted(archive, [joined(plain.subarray(0, first), inner)]),
    };
  }
  if (codec === 'ffmpeg') {
    const first = sound.first ? asCount(sound.first.run(archive.context, entry.row)) : 0;
    return codedSound(codingOf(sound, archive, entry, name), plain.subarray(first), {
      ...{ file: name, title, decode, whole: bytes, bounds },
      wrap: (coded) => emitted(archive, [joined(plain.subarray(0, first), coded)]),
    });
  }
  const samples = samplesOf(sound, archive, entry, codec, plain.length, name);
  const behind = samples.first + bytesOf(samples, samples.frames, plain.length - samples.first);
  const before = waved(samples, plain.subarray(samples.first, behind));
  return {
    title,
    bounds,
    inner: before,
    lossy: lossyTitle(samples),
    way: way.said,
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
  codec: SampleCodec,
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
  /** How a program beside this one reads it, where that does. */
  readonly coding: Coding | undefined;
  /** Bytes before the sound. */
  readonly first: number;
  /** Whether the archive follows when the sound gets another length. */
  readonly isLengthFree: boolean;
  /** How many bytes the entry has that this is said of. */
  readonly length: number;
  readonly way: WayTaken | undefined;
  readonly bounds: LengthBounds;
}

/** What an archive says of one of its entries. Throws FormatError where that and its bytes do not agree. */
export function soundSpecOf(
  of: SoundType,
  archive: Archive,
  entry: Entry,
  file: string,
  said?: number,
): SoundSpec {
  const { context, script } = archive;
  const { row } = entry;
  const beginning = of.others.length > 0 ? beginningOf(archive.plain(entry)) : NOTHING;
  const way = likeliestWay(of, archive, entry, beginning, file, said);
  const { sound } = way;
  const codec = codecOf(asText(sound.codec.run(context, row)), file);
  const derived = new Set(
    row?.type.fields.flatMap(({ name, role }) => (role.sort === 'derived' ? [name] : [])),
  );
  const { samples } = sound;
  return {
    ...{ file, title: script.title, length: entry.size },
    bounds: boundsOf(sound, archive, entry),
    coding: codec === 'ffmpeg' ? codingOf(sound, archive, entry, file) : undefined,
    samples:
      codec === 'file' || codec === 'ffmpeg'
        ? undefined
        : samplesOf(sound, archive, entry, codec, entry.size, file),
    first: sound.first ? asCount(sound.first.run(context, row)) : 0,
    way: way.said,
    isLengthFree:
      !samples || (samples.mentions.size > 0 && [...samples.mentions].every((name) => derived.has(name))),
  };
}

/** A sound from the plain bytes of its entry. */
export function describedSound(
  { file, title, samples: said, coding, first, isLengthFree, length, way, bounds }: SoundSpec,
  plain: Uint8Array,
  decode?: DecodeCoded,
): WrappedSound {
  if (coding)
    return codedSound(coding, plain.subarray(first), {
      ...{ file, title, decode, bounds, whole: plain },
      wrap: (coded) => joined(plain.subarray(0, first), coded),
    });
  if (!said)
    return {
      ...{ title, inner: plain.subarray(first), lossy: undefined, bounds },
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
    bounds,
    inner: before,
    lossy: lossyTitle(samples),
    way,
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
