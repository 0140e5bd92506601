import fs from 'node:fs';
import path from 'node:path';
import { collect, FormatError, refOfBytes, type BytesRef } from '@/core/bytes';
import { containerOf, typeOfHead } from '@/core/kinds';
import { loopsOf, otherChunks, readWaveFacts } from '@/media/sound/core/audio';
import { NOTHING_BESIDE } from '@/media/picture/core/texture';
import { withBeside, wrappedSoundOf } from '@/platform/node/media-scripts';
import { makeTemporary } from '@/platform/node/temporary';
import type { ConvertContext, Converter, ToConvert } from '@/platform/node/convert/converter';
import { boundFor, SLACK_BYTES } from './bounds';
import { cannotDecode, decode, handOver, loopComments, OPUS_RATE, type Prepared } from './ffmpeg';
import { DEMUXERS, HEAD_BYTES, isOggOf, lay, VORBIS } from './lay';

/** One process with many inputs takes a fifth of the time of one for each. */
const TOGETHER = 32;

/** Something that sounds are taken out as. */
interface Target {
  readonly ending: string;
  /** What ffmpeg is told of it; a WAV of samples as wide as the sound has them where nothing is said. */
  readonly encoder?: readonly string[];
  /** Whether a sound is of this kind already, by its ending and its beginning, and is left as it is. */
  isAlready(ending: string, plain: BytesRef, head: Uint8Array): boolean;
}

/** Sounds of many files, whatever they are packed in, as a target; both cores are used where a run has several of these at work. */
const soundsAs = (target: Target): Converter => ({
  ending: target.ending,
  together: TOGETHER,
  async convert(items, context, done) {
    const folder = makeTemporary();
    try {
      const prepared: Prepared[] = [];
      for (const [index, stored] of items.entries())
        try {
          const item = unwrapped(stored, context);
          const one = prepare(folder, index, item, context, target);
          if (one) prepared.push(one);
          else done(index, item.plain);
        } catch (error) {
          if (!(error instanceof FormatError)) throw error;
          done(index, error);
        }
      const together = prepared.length > 1 ? boundFor(folder, prepared.length) : 0;
      const isWhole = prepared.length > 1 && (await decode(prepared, context, together)) === undefined;
      for (const one of prepared) {
        // One that came up to the bound of many may be within that of one alone.
        let bound = together;
        const isThere = isWhole && fs.statSync(one.output).size < bound - SLACK_BYTES;
        if (!isThere) fs.rmSync(one.output, { force: true });
        const problem = isThere ? undefined : await decode([one], context, (bound = boundFor(folder, 1)));
        if (problem === undefined) handOver(one, bound, done);
        else done(one.index, cannotDecode(one.path, problem));
        fs.rmSync(one.output, { force: true });
      }
    } finally {
      fs.rmSync(folder, { recursive: true, force: true });
    }
  },
});

/** Ways to take sounds out, by their names in `core/ways.ts`. */
export const soundConverters: Readonly<Record<string, Converter>> = {
  wav: soundsAs({
    ending: '.wav',
    isAlready: (ending, plain) => ending === 'wav' && isPlainWave(plain),
  }),
  flac: soundsAs({
    ending: '.flac',
    encoder: ['-c:a', 'flac', '-compression_level', '8', '-f', 'flac'],
    isAlready: (ending) => ending === 'flac',
  }),
  ogg: soundsAs({
    ending: '.ogg',
    encoder: ['-c:a', 'libvorbis', '-q:a', '6', '-f', 'ogg'],
    isAlready: (ending, _plain, head) => ending === 'ogg' && isOggOf(VORBIS, head),
  }),
  opus: soundsAs({
    ending: '.opus',
    encoder: ['-c:a', 'libopus', '-b:a', '96k', '-f', 'ogg'],
    isAlready: (ending, _plain, head) => ending === 'ogg' && isOggOf('OpusHead', head),
  }),
  mp3: soundsAs({
    ending: '.mp3',
    encoder: ['-c:a', 'libmp3lame', '-q:a', '2', '-id3v2_version', '3', '-f', 'mp3'],
    isAlready: (ending) => ending === 'mp3',
  }),
};

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
function prepare(
  folder: string,
  index: number,
  item: ToConvert,
  context: ConvertContext,
  { ending, encoder, isAlready }: Target,
): Prepared | undefined {
  const laid = lay(folder, index, item, context);
  const [head = new Uint8Array()] = item.plain.chunks();
  const own = containerOf(typeOfHead(head.subarray(0, HEAD_BYTES))?.ending ?? '');
  if (isAlready(own, item.plain, head)) {
    fs.rmSync(laid.input);
    return undefined;
  }
  if (!encoder) return laid;
  const output = path.join(folder, `${index}${ending}`);
  return { ...laid, output, encoder: [...loopTags(item.plain, ending), ...encoder] };
}

/** The loop of a wave file as comments. */
function loopTags(plain: BytesRef, ending: string): string[] {
  if (plain.length > MOST_WRAPPED_BYTES) return [];
  const [first = new Uint8Array()] = plain.chunks();
  if (typeOfHead(first.subarray(0, HEAD_BYTES))?.ending !== 'wav') return [];
  try {
    const bytes = collect(plain);
    const facts = readWaveFacts(bytes);
    const [loop] = loopsOf(otherChunks(bytes, facts));
    if (!loop) return [];
    const { rate } = facts;
    const seconds = { from: loop.from / rate, to: (loop.to + 1) / rate };
    return loopComments(seconds, ending === '.opus' ? OPUS_RATE : rate);
  } catch (error) {
    // What is wrong with it, whoever decodes it says.
    if (error instanceof FormatError) return [];
    throw error;
  }
}

/** Whether a WAV has plain samples; only its beginning is looked at, so that it need not be held. */
function isPlainWave(plain: BytesRef): boolean {
  const [head = new Uint8Array()] = plain.chunks();
  try {
    const { sort } = readWaveFacts(head);
    return sort === 'whole' || sort === 'float';
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    const isCutHere = error.code === 'truncated' && error.facts.fieldPath === 'data';
    return isCutHere && plain.length > head.length;
  }
}
