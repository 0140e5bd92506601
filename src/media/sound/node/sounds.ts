import { spawn } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { containerOf, typeOfHead } from '@/core/kinds';
import { collect, FormatError, refOfBytes, refOfSpan, type BytesRef } from '@/core/bytes';
import { decodedLength, heardFrames, loopsOf, otherChunks, readWaveFacts } from '@/media/sound/core/audio';
import { openFileSource } from '@/platform/node/file-source';
import { NOTHING_BESIDE } from '@/media/picture/core/texture';
import { withBeside, wrappedSoundOf } from '@/platform/node/media-scripts';
import { writeFully } from '@/platform/node/file-sink';
import { makeTemporary } from '@/platform/node/temporary';
import type { ConvertContext, Converter, ToConvert } from '@/platform/node/convert/converter';

/**
 * How ffmpeg is told what a file is: by its head, never by ffmpeg's own guess, since some of the formats that it knows are lists
 * of other files to be opened.
 */
const DEMUXERS: Readonly<Record<string, string>> = {
  wav: 'wav',
  ogg: 'ogg',
  flac: 'flac',
  mp3: 'mp3',
  mp4: 'mov',
  aac: 'aac',
  aif: 'aiff',
  au: 'au',
};
const HEAD_BYTES = 4096;
/** One process with many inputs takes a fifth of the time of one for each. */
const TOGETHER = 32;
/** A few bytes of silence can stand for days of it; longer results are refused, and so is a decoder that does not end. */
const MOST_WAVE_BYTES = 2 * 2 ** 30;
/** Bytes of the longest sound that is decoded, as whoever runs the application has set it. */
const mostBytes = (): number => Number(process.env.ZERO_LATCH_MOST_SOUND_BYTES) || MOST_WAVE_BYTES;
const MOST_MS = 15 * 60_000;
/** What has been decoded may take this share of the room that the disk had; the rest is for what is made of it. */
const SHARE_OF_ROOM = 0.5;
/** ffmpeg ends about so much before its bound. */
const SLACK_BYTES = 1 << 20;

interface Prepared {
  readonly index: number;
  readonly input: string;
  readonly output: string;
  readonly demuxer: string;
  readonly codec: string;
  /** Rate and channels that it is to have; its own where nothing is said. */
  readonly shape?: SoundShape | undefined;
  /** What ffmpeg is told of another result than a WAV. */
  readonly encoder?: readonly string[] | undefined;
  readonly path: string;
  /** Of Vorbis, how many frames it is heard with: of one that lies in a single page ffmpeg takes other ones. */
  readonly frames?: number | undefined;
}

export interface SoundShape {
  readonly rate: number;
  readonly channels: number;
  /** Channels that it has now. */
  readonly from: number;
}

/** Mono is copied to all channels, and all are mixed to mono in equal parts; anything else is left to ffmpeg. */
function mixFilter({ channels, from }: SoundShape): string | undefined {
  if (from === channels || (from > 1 && channels > 1)) return undefined;
  const each = (of: number, text: (i: number) => string, between: string): string =>
    Array.from({ length: of }, (_, i) => text(i)).join(between);
  const mix =
    from === 1 ? each(channels, (i) => `c${i}=c0`, '|') : `c0=${each(from, (i) => `${1 / from}*c${i}`, '+')}`;
  return `pan=${channels}c|${mix}`;
}

/** What ffmpeg is told of the samples of a result. */
function shapeOptions({ shape, frames }: Pick<Prepared, 'shape' | 'frames'>): string[] {
  const mix = shape && mixFilter(shape);
  const filters = [
    ...(frames === undefined ? [] : ['asetpts=N/SR/TB', `atrim=end_sample=${frames}`]),
    ...(mix ? [mix] : []),
  ];
  return [
    ...(filters.length > 0 ? ['-af', filters.join(',')] : []),
    ...(shape ? ['-ar', String(shape.rate)] : []),
    ...(shape && !mix ? ['-ac', String(shape.channels)] : []),
  ];
}

/** Something that sounds are taken out as. */
interface Target {
  readonly ending: string;
  /** What ffmpeg is told of it; a WAV of samples as wide as the sound has them where nothing is said. */
  readonly encoder?: readonly string[];
  /** Whether a sound is of this kind already, by its ending and its beginning, and is left as it is. */
  isAlready(ending: string, plain: BytesRef, head: Uint8Array): boolean;
}

const VORBIS = '\u0001vorbis';
/** The codec of an Ogg is named in its first page (RFC 3533, section 6). */
const isOggOf = (word: string, head: Uint8Array): boolean =>
  Buffer.from(head.subarray(28, 28 + word.length)).toString('latin1') === word;

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

/** A sound, whatever it is packed in, as a wave file of floats at a rate and with so many channels; resampled by ffmpeg (swresample). */
export const shapedSound = (given: Uint8Array, name: string, shape: SoundShape): Promise<Uint8Array> =>
  one(given, name, shape, { codec: 'pcm_f32le' });

/** What a packed sound is to be like. */
export interface PackedSound extends SoundShape {
  readonly codec: 'vorbis' | 'opus' | 'flac' | 'mp3';
  /** Bits a second of those that lose something, and of a sample of those that do not. */
  readonly bitRate: number;
  readonly bits: number;
}

/** A sound, whatever it is packed in, packed in another codec and container. */
export const packedSound = (given: Uint8Array, name: string, wanted: PackedSound): Promise<Uint8Array> =>
  one(given, name, wanted, { codec: wanted.codec, encoder: encoderOf(wanted) });

/** Bits a second of a channel at 44,100 Hz that Vorbis has at each quality from -1 to 10 (nominal rates of libvorbis). */
const VORBIS_RATES = [
  22_500, 32_000, 40_000, 48_000, 56_000, 64_000, 80_000, 96_000, 112_000, 128_000, 160_000,
];

/** The least quality with as many bits: a bit rate itself is refused by the encoder where it is too low for the sampling rate. */
function vorbisQuality({ bitRate, rate, channels }: PackedSound): number {
  const each = (bitRate / channels) * (44_100 / rate);
  const found = VORBIS_RATES.findIndex((has) => has >= each);
  return (found < 0 ? VORBIS_RATES.length : found) - 1;
}

/** Opus takes at most so many bits a second for each channel. */
const MOST_OPUS_RATE = 256_000;

function encoderOf(wanted: PackedSound): string[] {
  const { codec, bits, channels } = wanted;
  const most = codec === 'opus' ? MOST_OPUS_RATE * channels : Infinity;
  const rate = ['-b:a', String(Math.round(Math.min(most, wanted.bitRate)))];
  if (codec === 'vorbis') return ['-c:a', 'libvorbis', '-q:a', String(vorbisQuality(wanted)), '-f', 'ogg'];
  if (codec === 'opus') return ['-c:a', 'libopus', ...rate, '-f', 'ogg'];
  if (codec === 'mp3')
    return ['-c:a', 'libmp3lame', ...rate, '-id3v2_version', '0', '-write_xing', '0', '-f', 'mp3'];
  return ['-c:a', 'flac', '-sample_fmt', bits > 16 ? 's32' : 's16', '-f', 'flac'];
}

async function one(
  given: Uint8Array,
  name: string,
  shape: SoundShape,
  how: Pick<Prepared, 'codec' | 'encoder'>,
): Promise<Uint8Array> {
  const folder = makeTemporary();
  try {
    const context: ConvertContext = { mediaScripts: () => undefined, check: () => undefined };
    const laid = lay(folder, 0, { plain: refOfBytes(given), path: name }, context);
    const wanted: Prepared = { ...laid, ...how, shape };
    const bound = boundFor(folder, 1);
    const problem = await decode([wanted], context, bound);
    if (problem !== undefined) throw cannotDecode(name, problem);
    const result: { made?: Uint8Array | FormatError } = {};
    handOver(wanted, bound, (_index, made) => {
      result.made = made instanceof FormatError ? made : collect(made);
    });
    if (result.made instanceof FormatError) throw result.made;
    return result.made!;
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

const cannotDecode = (file: string, actual: string): FormatError =>
  new FormatError('codec-failed', { file, actual, remedy: 'Take it as it is stored and look at it there' });

/** Bytes that each of so many sounds may take once it is decoded: what is set, and what the disk has room for. */
function boundFor(folder: string, count: number): number {
  const { bavail, bsize } = fs.statfsSync(folder);
  return Math.max(
    2 * SLACK_BYTES,
    Math.min(mostBytes(), Math.floor((bavail * bsize * SHARE_OF_ROOM) / count)),
  );
}

const tooLong = (name: string, expected: number, actual: string): FormatError =>
  new FormatError('budget', {
    file: name,
    expected: `at most ${expected} bytes once it is decoded`,
    actual,
    remedy:
      'Take it as it is stored; or make room on the disk, or have ZERO_LATCH_MOST_SOUND_BYTES allow more where bin/start is run',
  });

/** Refuses what says itself that it would be too long, before a byte of it is decoded. */
function refuseLong(plain: BytesRef, name: string, folder: string): void {
  const says = decodedLength(plain);
  if (!says) return;
  const bytes = says.frames * says.channels * Math.ceil((says.bits ?? 16) / 8);
  const bound = boundFor(folder, 1);
  if (bytes > bound)
    throw tooLong(name, bound, `${bytes} (${Math.round(says.frames / Math.max(1, says.rate) / 60)} minutes)`);
}

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

/** Opus has samples at this rate only, whatever it was made of (RFC 7845, section 4). */
const OPUS_RATE = 48_000;

/** The loop of a wave file as comments, as players of games read them; other formats have no chunk for it. */
function loopTags(plain: BytesRef, ending: string): string[] {
  if (plain.length > MOST_WRAPPED_BYTES) return [];
  const [first = new Uint8Array()] = plain.chunks();
  if (typeOfHead(first.subarray(0, HEAD_BYTES))?.ending !== 'wav') return [];
  try {
    const bytes = collect(plain);
    const facts = readWaveFacts(bytes);
    const [loop] = loopsOf(otherChunks(bytes, facts));
    if (!loop) return [];
    const by = ending === '.opus' ? OPUS_RATE / facts.rate : 1;
    const from = Math.round(loop.from * by);
    const length = Math.round((loop.to + 1) * by) - from;
    return ['-metadata', `LOOPSTART=${from}`, '-metadata', `LOOPLENGTH=${length}`];
  } catch (error) {
    // What is wrong with it, whoever decodes it says.
    if (error instanceof FormatError) return [];
    throw error;
  }
}

function lay(
  folder: string,
  index: number,
  { plain, path: name }: ToConvert,
  { check }: ConvertContext,
): Prepared {
  refuseLong(plain, name, folder);
  const input = path.join(folder, `${index}.in`);
  const fd = fs.openSync(input, 'wx');
  let head: Uint8Array | undefined;
  try {
    for (const chunk of plain.chunks()) {
      check();
      head ??= chunk.slice(0, HEAD_BYTES);
      writeFully(fd, chunk);
    }
  } finally {
    fs.closeSync(fd);
  }
  const first = head ?? new Uint8Array();
  const ending = containerOf(typeOfHead(first)?.ending ?? '');
  const demuxer = DEMUXERS[ending];
  if (!demuxer)
    throw new FormatError('not-recognised', {
      file: name,
      byteOffset: 0,
      expected: 'a sound (WAV, AIFF, AU, Ogg, FLAC, MP3, AAC, MP4)',
      remedy: 'Take it as it is stored, or write a script for its format',
    });
  const output = path.join(folder, `${index}.wav`);
  const frames = ending === 'ogg' && isOggOf(VORBIS, first) ? heardFrames(plain) : undefined;
  return { index, input, output, demuxer, codec: codecFor(ending, first), path: name, frames };
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

/** Samples as wide as the source has them, where it has whole numbers of more than 16 bits (FLAC's STREAMINFO, RFC 9639). */
function codecFor(ending: string, head: Uint8Array): string {
  if (ending !== 'flac' || head.length < 22) return 'pcm_s16le';
  const bits = (((head[20]! & 1) << 4) | (head[21]! >> 4)) + 1;
  return bits <= 16 ? 'pcm_s16le' : bits <= 24 ? 'pcm_s24le' : 'pcm_s32le';
}

/** Decodes files; undefined where all went well, else what was said. A damaged one is an error, not a gap. */
async function decode(
  files: readonly Prepared[],
  { check }: ConvertContext,
  bound: number,
): Promise<string | undefined> {
  const args = ['-v', 'error', '-nostdin', '-xerror', '-y', '-protocol_whitelist', 'file'];
  for (const { demuxer, input, frames } of files)
    args.push(
      ...(frames === undefined ? [] : ['-flags2', '+skip_manual']),
      ...['-err_detect', 'explode', '-f', demuxer, '-i', input],
    );
  for (const [i, { codec, output, shape, encoder, frames }] of files.entries())
    args.push(
      ...['-map', `${i}:a:0`, '-map_metadata', '-1', ...shapeOptions({ shape, frames }), '-bitexact'],
      ...['-fs', String(bound), ...(encoder ?? ['-c:a', codec, '-rf64', 'auto', '-f', 'wav']), output],
    );
  const child = spawn('ffmpeg', args, {
    stdio: ['ignore', 'ignore', 'pipe'],
    timeout: MOST_MS,
    killSignal: 'SIGKILL',
  });
  const said: string[] = [];
  child.stderr.on('data', (text: Buffer) => said.length < 20 && said.push(String(text)));
  const watch = setInterval(() => {
    try {
      check();
    } catch {
      child.kill('SIGKILL');
    }
  }, 200);
  try {
    const code = await new Promise<number | null>((resolve, reject) => {
      child.once('error', (error: NodeJS.ErrnoException) =>
        reject(
          error.code === 'ENOENT'
            ? new FormatError('codec-failed', {
                why: 'ffmpeg is not installed',
                remedy: 'Install it (Debian: ffmpeg)',
              })
            : error,
        ),
      );
      child.once('close', resolve);
    });
    check();
    if (code === 0) return undefined;
    // Places of the temporary files mean nothing to anybody.
    return (
      said
        .join('')
        .replace(/\S*zero-latch-work-\S*?(?=[:\s]|$)/g, 'the sound')
        .trim()
        .split('\n')
        .slice(0, 3)
        .join('; ') || `ended with ${code ?? `nothing after ${MOST_MS / 60_000} minutes`}`
    );
  } finally {
    clearInterval(watch);
  }
}

function handOver(
  { index, output, path: name }: Prepared,
  bound: number,
  done: (index: number, result: BytesRef | FormatError) => void,
): void {
  const source = openFileSource(output, name);
  try {
    if (source.length >= bound - SLACK_BYTES) return done(index, tooLong(name, bound, 'more'));
    done(index, refOfSpan(source, 0, source.length));
  } finally {
    source.close();
  }
}
