import fs from 'node:fs';
import { collect, FormatError, refOfBytes } from '@/core/bytes';
import type { ConvertContext } from '@/platform/node/convert/converter';
import { makeTemporary } from '@/platform/node/temporary';
import { boundFor } from './bounds';
import {
  cannotDecode,
  decode,
  handOver,
  loopComments,
  OPUS_RATE,
  type Prepared,
  type SoundShape,
} from './ffmpeg';
import { lay } from './lay';

/** A sound, whatever it is packed in, as a wave file of floats at a rate and with so many channels; resampled by ffmpeg (swresample). */
export const shapedSound = (given: Uint8Array, name: string, shape: SoundShape): Promise<Uint8Array> =>
  one(given, name, shape, { codec: 'pcm_f32le' });

/** What a packed sound is to be like. */
export interface PackedSound extends SoundShape {
  readonly codec: 'vorbis' | 'opus' | 'flac' | 'mp3';
  /** Bits a second of those that lose something, and of a sample of those that do not. */
  readonly bitRate: number;
  readonly bits: number;
  /** Seconds; where it is to say that it is played again from. */
  readonly loop?: { readonly from: number; readonly to: number } | undefined;
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
  const { codec, loop, rate } = wanted;
  const comments = loop ? loopComments(loop, codec === 'opus' ? OPUS_RATE : rate) : [];
  return [...comments, ...codecOptions(wanted)];
}

function codecOptions(wanted: PackedSound): string[] {
  const { codec, bits, channels, loop } = wanted;
  const most = codec === 'opus' ? MOST_OPUS_RATE * channels : Infinity;
  const rate = ['-b:a', String(Math.round(Math.min(most, wanted.bitRate)))];
  if (codec === 'vorbis') return ['-c:a', 'libvorbis', '-q:a', String(vorbisQuality(wanted)), '-f', 'ogg'];
  if (codec === 'opus') return ['-c:a', 'libopus', ...rate, '-f', 'ogg'];
  if (codec === 'mp3') {
    const tags = ['-id3v2_version', loop ? '3' : '0', '-write_xing', '0'];
    return ['-c:a', 'libmp3lame', ...rate, ...tags, '-f', 'mp3'];
  }
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
