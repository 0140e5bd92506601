import { z } from 'zod';

/** What becomes of a sound of the film that is replaced: one of the new film's in its place, the old one kept on purpose, or none. */
export const SoundWish = z.union([
  z.literal('keep'),
  z.literal('silence'),
  z.object({ from: z.int().min(0).max(63) }),
]);
export type SoundWish = z.infer<typeof SoundWish>;

export const FITS = ['pad', 'crop', 'stretch'] as const;
export const EFFORTS = ['quick', 'usual', 'best'] as const;

/** What a film is to be made of what was given. */
export const FilmWish = z.object({
  blob: z.string().regex(/^[0-9a-f]{64}$/),
  name: z.string().min(1).max(255),
  width: z.int().min(16).max(4096).multipleOf(2),
  height: z.int().min(16).max(4096).multipleOf(2),
  /** How pictures of another shape come into it. */
  fit: z.enum(FITS).default('pad'),
  /** Pictures a second. */
  rate: z.number().min(1).max(120),
  /** Bits a second of the pictures. */
  bitRate: z.int().min(10_000).max(200_000_000),
  /** Two find out first where bits are needed, and hit a size. */
  passes: z.union([z.literal(1), z.literal(2)]).default(1),
  effort: z.enum(EFFORTS).default('usual'),
  /** Whether sounds of the new film become as loud as those that they replace. */
  even: z.boolean().default(false),
  /** The language whose texts are written into the pictures. */
  burn: z.string().max(10).optional(),
  /** For each sound of the film that is replaced. */
  sounds: z.array(SoundWish).max(64),
});
export type FilmWish = z.infer<typeof FilmWish>;

/** Encoders by what ffprobe calls a codec. */
const PICTURE_ENCODERS: Readonly<Record<string, string>> = {
  ...{ vp8: 'libvpx', vp9: 'libvpx-vp9', av1: 'libsvtav1', h264: 'libx264', theora: 'libtheora' },
  ...{ mpeg1video: 'mpeg1video', mpeg2video: 'mpeg2video', mpeg4: 'mpeg4', mjpeg: 'mjpeg' },
  ...{ msmpeg4v2: 'msmpeg4v2', msmpeg4v3: 'msmpeg4', wmv1: 'wmv1', wmv2: 'wmv2', flv1: 'flv' },
};
const SOUND_ENCODERS: Readonly<Record<string, string>> = {
  ...{
    opus: 'libopus',
    vorbis: 'libvorbis',
    aac: 'aac',
    mp3: 'libmp3lame',
    mp2: 'mp2',
    flac: 'flac',
    ac3: 'ac3',
  },
  ...{ pcm_s16le: 'pcm_s16le', pcm_u8: 'pcm_u8', adpcm_ima_wav: 'adpcm_ima_wav', adpcm_ms: 'adpcm_ms' },
};
export const pictureEncoder = (codec: string): string | undefined => PICTURE_ENCODERS[codec];
export const soundEncoder = (codec: string): string | undefined => SOUND_ENCODERS[codec];

/** What writes a container, by what reads it. */
export function muxerOf(demuxer: string, pictureCodec: string | undefined): string | undefined {
  if (demuxer === 'matroska')
    return pictureCodec === undefined || /^(?:vp[89]|av1)$/.test(pictureCodec) ? 'webm' : 'matroska';
  if (demuxer === 'mpegvideo') return pictureCodec;
  const others: Readonly<Record<string, string>> = { mov: 'mp4', aac: 'adts' };
  return others[demuxer] ?? demuxer;
}

/** How long an encoder takes over a picture. */
const EFFORT: Readonly<Record<string, Readonly<Record<(typeof EFFORTS)[number], readonly string[]>>>> = {
  libvpx: vpx(['8', '3', '1']),
  'libvpx-vp9': vpx(['8', '4', '2'], ['-row-mt', '1']),
  libsvtav1: { quick: ['-preset', '12'], usual: ['-preset', '9'], best: ['-preset', '6'] },
  libx264: { quick: ['-preset', 'veryfast'], usual: ['-preset', 'medium'], best: ['-preset', 'slow'] },
};

function vpx(
  [quick = '', usual = '', best = '']: readonly string[],
  more: readonly string[] = [],
): Record<(typeof EFFORTS)[number], readonly string[]> {
  const good = ['-deadline', 'good', ...more, '-cpu-used'];
  return {
    quick: ['-deadline', 'realtime', ...more, '-cpu-used', quick],
    usual: [...good, usual],
    best: [...good, best],
  };
}

/** How pictures are brought to the size and rate of a film (ffmpeg's filters). */
export function pictureFilter({
  width,
  height,
  fit,
  rate,
}: Pick<FilmWish, 'width' | 'height' | 'fit' | 'rate'>): string {
  const size = `${width}:${height}`;
  const shaped = {
    pad: `scale=${size}:force_original_aspect_ratio=decrease,pad=${size}:(ow-iw)/2:(oh-ih)/2`,
    crop: `scale=${size}:force_original_aspect_ratio=increase,crop=${size}`,
    stretch: `scale=${size}`,
  }[fit];
  return `fps=${rate},${shaped},setsar=1`;
}

/** How hard an encoder works; that of VP8 and VP9 finds nothing out in a first pass where it works against the clock. */
function effortOf(
  encoder: string,
  { effort, passes }: Pick<FilmWish, 'effort' | 'passes'>,
): readonly string[] {
  const isTwice = passes === 2 && effort === 'quick' && encoder.startsWith('libvpx');
  return isTwice ? ['-deadline', 'good', '-cpu-used', '5'] : (EFFORT[encoder]?.[effort] ?? []);
}

/** Whether a codec has anything to find out in a first pass: one whose pictures are all by themselves has not. */
export const passesOf = (codec: string, { passes }: Pick<FilmWish, 'passes'>): 1 | 2 =>
  codec === 'mjpeg' ? 1 : passes;

/** At the most so many seconds between pictures that are whole: what a player can begin at. */
const KEY_SECONDS = 2;

/** What the pictures of a film are, for coding others like them. */
export interface PictureShape {
  readonly codec: string;
  readonly pixels: string;
  /** The most seconds from a picture that a player can begin at to the next; undefined where that is not known. */
  readonly keySeconds: number | undefined;
}

/** A path within a graph of filters, twice escaped: in its option, and in the graph (ffmpeg-utils, section 2.1). */
export const inFilter = (path: string): string => {
  const inOption = path.replace(/[\\':]/g, '\\$&');
  return inOption.replace(/[\\'[\],;]/g, '\\$&');
};

/** Arguments that code pictures as a film has them; `texts` is a file of subtitles that are written into them. */
export function pictureArguments(
  wish: FilmWish,
  { codec, pixels, keySeconds }: PictureShape,
  texts?: string,
): string[] {
  const encoder = pictureEncoder(codec)!;
  const apart = Math.min(KEY_SECONDS, keySeconds ?? KEY_SECONDS);
  return [
    ...['-vf', `${pictureFilter(wish)}${texts === undefined ? '' : `,subtitles=${inFilter(texts)}`}`],
    ...['-c:v', encoder, '-b:v', String(wish.bitRate)],
    ...['-g', String(Math.max(1, Math.round(apart * wish.rate)))],
    ...effortOf(encoder, wish),
    ...['-pix_fmt', pixels || 'yuv420p', '-fps_mode', 'cfr'],
  ];
}

export interface SoundShape {
  readonly codec: string;
  readonly rate: number;
  readonly channels: number;
  /** Bits a second. */
  readonly bitRate: number;
}

/** Arguments that code a sound as a film has it, the one of that number among those of a file, louder by so many dB; silence follows where it ends before its pictures. */
export function soundArguments(
  { codec, rate, channels, bitRate }: SoundShape,
  number = 0,
  gain = 0,
): string[] {
  const at = `a:${number}`;
  const hasBits = !/^(?:pcm|flac|adpcm)/.test(codec);
  return [
    ...[`-filter:${at}`, `${gainFilter(gain)}apad`, `-c:${at}`, soundEncoder(codec)!],
    ...[`-ar:${at}`, String(rate), `-ac:${at}`, String(channels)],
    ...(hasBits ? [`-b:${at}`, String(Math.max(8000, Math.round(bitRate)))] : []),
  ];
}

/** What is made louder is held below full scale by a limiter. */
const gainFilter = (gain: number): string =>
  gain === 0 ? '' : `volume=${gain.toFixed(2)}dB,alimiter=limit=0.95:level=false,`;

/** So long a file is, whatever its streams would have. */
export const lengthArguments = (seconds: number): string[] => ['-t', seconds.toFixed(4)];
