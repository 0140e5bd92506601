import type { Archive, Entry } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import { asCount, asInteger, asText, asTruth, flattened, type Compiled, type SoundType } from '@/core/script';
import { isReaderName } from '@/media/readers';
import { MS_COEFFICIENTS } from '../adpcm';
import { checkAdpcm, frameBytes, framesIn, type Adpcm, type SampleForm } from './stored-samples';
import { WIDTHS, type SampleSort } from './wave-head';
import type { Loop } from './wave-marks';

/** Words for how samples are kept. */
const SORTS = {
  pcm: 'whole',
  float: 'float',
  'a-law': 'a-law',
  'mu-law': 'mu-law',
  'ima-adpcm': 'whole',
  'ms-adpcm': 'whole',
  file: 'file',
  ffmpeg: 'file',
} as const satisfies Readonly<Record<string, SampleSort | 'file'>>;
export type Codec = keyof typeof SORTS;
/** Those whose samples are read here. */
export type SampleCodec = Exclude<Codec, 'file' | 'ffmpeg'>;
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

/** How a script says that a sound is kept. */
export function codecOf(word: string, file: string): Codec {
  if (Object.hasOwn(SORTS, word)) return word as Codec;
  throw new FormatError('bad-value', {
    ...{ file, fieldPath: 'sound.codec', expected: Object.keys(SORTS).join(', '), actual: word },
  });
}

/** How the samples of an entry lie. Throws FormatError where what is said cannot be. */
export function samplesOf(
  sound: SoundType,
  archive: Archive,
  { row }: Entry,
  codec: SampleCodec,
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

/** What a program expects of the length of a sound, in seconds. */
export interface LengthBounds {
  /** For so long a mouth moves. */
  readonly lips: number | undefined;
  readonly longest: number | undefined;
}

export function boundsOf(sound: SoundType, { context }: Archive, { row }: Entry): LengthBounds {
  const count = (of: Compiled | undefined): number | undefined => of && asCount(of.run(context, row));
  const rate = count(sound.rate) ?? 44_100;
  const seconds = (samples: number | undefined): number | undefined =>
    samples === undefined ? undefined : samples / Math.max(1, rate);
  return { lips: seconds(count(sound.lips)), longest: seconds(count(sound.longest)) };
}

/** What ffmpeg is told of a sound that it decodes: what reads it, and what is not in its bytes. */
export interface Coding {
  readonly demuxer: string;
  readonly decoder: string | undefined;
  readonly rate: number | undefined;
  readonly channels: number | undefined;
}

/** How a script says that ffmpeg reads an entry. Throws FormatError where it names none. */
export function codingOf(sound: SoundType, { context }: Archive, { row }: Entry, file: string): Coding {
  const name = (of: Compiled | undefined, word: string): string | undefined => {
    const said = of && asText(of.run(context, row));
    if (said === undefined || isReaderName(said)) return said;
    throw new FormatError('bad-value', {
      ...{ file, fieldPath: `sound.${word}`, actual: said },
      expected: 'a name of ffmpeg: letters, digits and _',
    });
  };
  const demuxer = name(sound.demuxer, 'demuxer');
  if (demuxer === undefined)
    throw new FormatError('script-wrong', {
      ...{ file, fieldPath: 'sound.demuxer', expected: 'what ffmpeg calls the form', actual: 'nothing' },
    });
  const count = (of: Compiled | undefined): number | undefined => of && asCount(of.run(context, row));
  return {
    ...{ demuxer, decoder: name(sound.decoder, 'decoder') },
    ...{ rate: count(sound.rate), channels: count(sound.channels) },
  };
}
