/** What a stream of a film is coded in, as ffmpeg calls it. */
export interface Coded {
  readonly picture: string | undefined;
  /** How its samples lie. */
  readonly pixels: string;
  readonly sound: string | undefined;
  /** What reads the container of its pictures, as ffmpeg calls it. */
  readonly demuxer: string;
  /** Whether picture and sound lie in one container. */
  readonly isOne: boolean;
  readonly bytes: number;
}

/** How a film comes to be watched: as it lies, put into a container that browsers read without coding anything anew, or coded anew in pieces while it is watched. */
export type Playing =
  | { readonly how: 'as it is' }
  | { readonly how: 'whole'; readonly container: 'webm' | 'mp4' }
  | { readonly how: 'in pieces' };

const WEB_PICTURES = new Set(['vp8', 'vp9', 'av1']);
const WEB_SOUNDS = new Set(['opus', 'vorbis']);
const MP4_SOUNDS = new Set(['aac', 'mp3']);
/** Eight bits a sample, a colour for four of them: what all browsers show. */
const SHOWN_PIXELS = new Set(['yuv420p', 'yuvj420p', '']);
/** Putting so many bytes into another container takes about a second. */
const MOST_WHOLE_BYTES = 256 << 20;

/** Pictures by themselves that may be shown in another order than they lie in: without a container nothing says when, so that they are coded anew. */
export const WITHOUT_TIMES: ReadonlySet<string> = new Set(['h264', 'hevc']);

export function playingOf({ picture, pixels, sound, demuxer, isOne, bytes }: Coded): Playing {
  const isShown = SHOWN_PIXELS.has(pixels);
  const fits = (pictures: ReadonlySet<string>, sounds: ReadonlySet<string>): boolean =>
    isShown && (picture === undefined || pictures.has(picture)) && (sound === undefined || sounds.has(sound));
  const isWeb = fits(WEB_PICTURES, WEB_SOUNDS);
  const isMp4 = fits(new Set(['h264']), MP4_SOUNDS);
  if (isOne && ((demuxer === 'matroska' && isWeb) || (demuxer === 'mov' && isMp4)))
    return { how: 'as it is' };
  if ((isWeb || isMp4) && bytes <= MOST_WHOLE_BYTES && !WITHOUT_TIMES.has(demuxer))
    return { how: 'whole', container: isWeb ? 'webm' : 'mp4' };
  return { how: 'in pieces' };
}
