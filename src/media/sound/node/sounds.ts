import fs from 'node:fs';
import path from 'node:path';
import { collect, FormatError, refOfBytes, type BytesRef } from '@/core/bytes';
import { containerOf, typeOfHead } from '@/core/kinds';
import { measureWave, readWaveFacts } from '@/media/sound/core/audio';
import { NOTHING_BESIDE } from '@/media/picture/core/texture';
import { withBeside, wrappedSoundOf } from '@/platform/node/media-scripts';
import { makeTemporary } from '@/platform/node/temporary';
import type { ConvertContext, Converter, ToConvert } from '@/platform/node/convert/converter';
import { boundFor, SLACK_BYTES } from './bounds';
import { cannotDecode, decode, handOver, loopComments, OPUS_RATE, type Prepared } from './ffmpeg';
import { EVEN_DB } from '../core/ways';
import { DEMUXERS, HEAD_BYTES, isOggOf, lay, VORBIS } from './lay';
import { appendMarks, marksIn, type MarksAlong } from './marks-along';

/** One process with many inputs takes a fifth of the time of one for each. */
const TOGETHER = 32;

/** Something that sounds are taken out as. */
interface Target {
  readonly ending: string;
  /** What ffmpeg is told of it; a WAV of samples as wide as the sound has them where nothing is said. */
  readonly encoder?: readonly string[];
  /** The codec of the samples of a WAV, where they are not to be as the sound has them. */
  readonly samples?: string;
  /** How loud each is made, in dB below full scale. */
  readonly level?: number;
  /** Whether a sound is of this kind already, by its ending and its beginning, and is left as it is. */
  isAlready(ending: string, plain: BytesRef, head: Uint8Array): boolean;
}

/** Says by how much each sound is to be louder so that all are as loud as this, and no peak is cut off. What cannot be decoded says so later. */
async function makeEven(
  folder: string,
  all: LaidOut[],
  level: number,
  context: ConvertContext,
): Promise<void> {
  const probes = all.map(({ input, demuxer, frames, path: name, index }): Prepared => ({
    ...{ index, input, demuxer, frames, path: name, codec: 'pcm_f32le' },
    output: path.join(folder, `${index}.level.wav`),
  }));
  const measure = (i: number, bound: number): void =>
    handOver(probes[i]!, bound, (_index, made) => {
      if (made instanceof FormatError) return;
      const { level: now, peak } = measureWave(made);
      if (peak > 0 && now > Number.NEGATIVE_INFINITY)
        all[i] = { ...all[i]!, gain: Math.min(level - now, -20 * Math.log10(peak)) };
    });
  const together = boundFor(folder, Math.max(1, probes.length));
  const isWhole = probes.length > 0 && (await decode(probes, context, together)) === undefined;
  for (const [i, probe] of probes.entries()) {
    // One that came up to the bound of many, or lay among some of which one is broken, is tried by itself.
    const isThere = isWhole && fs.statSync(probe.output).size < together - SLACK_BYTES;
    const bound = isThere ? together : boundFor(folder, 1);
    if (!isThere) fs.rmSync(probe.output, { force: true });
    if (isThere || (await decode([probe], context, bound)) === undefined) measure(i, bound);
    fs.rmSync(probe.output, { force: true });
  }
}

/** Puts marks into what was made; gives why that one alone could not have them. */
function marked(file: string, marks: MarksAlong): FormatError | undefined {
  try {
    appendMarks(file, marks);
    return undefined;
  } catch (error) {
    if (error instanceof FormatError) return error;
    throw error;
  }
}

/** A sound that is laid down, and the marks that its WAV is to have. */
interface LaidOut extends Prepared {
  readonly marks?: MarksAlong | undefined;
}

/** Sounds of many files, whatever they are packed in, as a target; both cores are used where a run has several of these at work. */
const soundsAs = (target: Target): Converter => ({
  ending: target.ending,
  together: TOGETHER,
  async convert(items, context, done) {
    const folder = makeTemporary();
    try {
      const prepared: LaidOut[] = [];
      for (const [index, stored] of items.entries())
        try {
          const item = unwrapped(stored, context);
          const one = await prepare(folder, index, item, context, target);
          if (one) prepared.push(one);
          else done(index, item.plain);
        } catch (error) {
          if (!(error instanceof FormatError)) throw error;
          done(index, error);
        }
      if (target.level !== undefined) await makeEven(folder, prepared, target.level, context);
      const together = prepared.length > 1 ? boundFor(folder, prepared.length) : 0;
      const isWhole = prepared.length > 1 && (await decode(prepared, context, together)) === undefined;
      for (const one of prepared) {
        // One that came up to the bound of many may be within that of one alone.
        let bound = together;
        const isThere = isWhole && fs.statSync(one.output).size < bound - SLACK_BYTES;
        if (!isThere) fs.rmSync(one.output, { force: true });
        const problem = isThere ? undefined : await decode([one], context, (bound = boundFor(folder, 1)));
        if (problem === undefined) {
          const wrong = one.marks && marked(one.output, one.marks);
          if (wrong) done(one.index, wrong);
          else handOver(one, bound, done);
        } else done(one.index, cannotDecode(one.path, problem));
        fs.rmSync(one.output, { force: true });
      }
    } finally {
      fs.rmSync(folder, { recursive: true, force: true });
    }
  },
});

const PACKED: Readonly<Record<'flac' | 'ogg' | 'opus' | 'mp3', Target>> = {
  flac: {
    ending: '.flac',
    encoder: ['-c:a', 'flac', '-compression_level', '8', '-f', 'flac'],
    isAlready: (ending) => ending === 'flac',
  },
  ogg: {
    ending: '.ogg',
    encoder: ['-c:a', 'libvorbis', '-q:a', '6', '-f', 'ogg'],
    isAlready: (ending, _plain, head) => ending === 'ogg' && isOggOf(VORBIS, head),
  },
  opus: {
    ending: '.opus',
    encoder: ['-c:a', 'libopus', '-b:a', '96k', '-f', 'ogg'],
    isAlready: (ending, _plain, head) => ending === 'ogg' && isOggOf('OpusHead', head),
  },
  mp3: {
    ending: '.mp3',
    encoder: ['-c:a', 'libmp3lame', '-q:a', '2', '-id3v2_version', '3', '-f', 'mp3'],
    isAlready: (ending) => ending === 'mp3',
  },
};

/** A WAV whose samples are of one form, whatever the sound has. */
const wavOf = (samples: string, sort: 'whole' | 'float', bits: number): Target => ({
  ending: '.wav',
  samples,
  isAlready: (ending, plain) => ending === 'wav' && isPlainWave(plain, sort, bits),
});

const TARGETS: Readonly<Record<string, Target>> = {
  wav: { ending: '.wav', isAlready: (ending, plain) => ending === 'wav' && isPlainWave(plain) },
  wav16: wavOf('pcm_s16le', 'whole', 16),
  wav24: wavOf('pcm_s24le', 'whole', 24),
  wavf: wavOf('pcm_f32le', 'float', 32),
  ...PACKED,
  'wav-even': { ...wavOf('pcm_s16le', 'whole', 16), level: EVEN_DB },
  'ogg-even': { ...PACKED.ogg, level: EVEN_DB },
  'mp3-even': { ...PACKED.mp3, level: EVEN_DB },
};

/** Ways to take sounds out, by their names in `core/ways.ts`. */
export const soundConverters: Readonly<Record<string, Converter>> = Object.fromEntries(
  Object.entries(TARGETS).map(([name, target]) => [name, soundsAs(target)]),
);

/** A wrapped sound of more bytes is taken out as it is stored. */
const MOST_WRAPPED_BYTES = 64 << 20;

/** What a script unwraps of a sound whose beginning tells no open format. */
function unwrapped(item: ToConvert, { mediaScripts }: ConvertContext): ToConvert {
  const { plain, path: name, beside = NOTHING_BESIDE, described } = item;
  if (plain.length > MOST_WRAPPED_BYTES) return item;
  const [head = new Uint8Array()] = plain.chunks();
  const ending = typeOfHead(head.subarray(0, HEAD_BYTES))?.ending ?? '';
  // What is open is decoded from the file itself, and never held.
  if (!described && DEMUXERS[containerOf(ending)] !== undefined) return item;
  const sound = wrappedSoundOf(withBeside(collect(plain), beside, described), name, mediaScripts);
  return sound ? { ...item, plain: refOfBytes(sound.inner) } : item;
}

/** Lays a sound down for the decoder; undefined where it is what is wanted already. */
async function prepare(
  folder: string,
  index: number,
  item: ToConvert,
  context: ConvertContext,
  { ending, encoder, samples, level, isAlready }: Target,
): Promise<LaidOut | undefined> {
  const laid = lay(folder, index, item, context);
  const [head = new Uint8Array()] = item.plain.chunks();
  const own = containerOf(typeOfHead(head.subarray(0, HEAD_BYTES))?.ending ?? '');
  if (level === undefined && isAlready(own, item.plain, head)) {
    fs.rmSync(laid.input);
    return undefined;
  }
  const marks = await marksIn(item.plain, laid.input, own === 'wav');
  if (!encoder) return { ...laid, ...(samples !== undefined && { codec: samples }), marks };
  const rate = ending === '.opus' ? OPUS_RATE : marks.rate;
  const tags = marks.loop && rate ? loopComments(marks.loop, rate) : [];
  return { ...laid, output: path.join(folder, `${index}${ending}`), encoder: [...tags, ...encoder] };
}

/** Whether a WAV has plain samples, or those of one form; only its beginning is looked at, so that it need not be held. */
function isPlainWave(plain: BytesRef, wanted?: 'whole' | 'float', width?: number): boolean {
  const [head = new Uint8Array()] = plain.chunks();
  try {
    const { sort, bits } = readWaveFacts(head, plain.length);
    return wanted === undefined ? sort === 'whole' || sort === 'float' : sort === wanted && bits === width;
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    const isCutHere = error.code === 'truncated' && error.facts.fieldPath === 'data';
    return wanted === undefined && isCutHere && plain.length > head.length;
  }
}
