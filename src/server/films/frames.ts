import { LRUCache } from 'lru-cache';
import pLimit from 'p-limit';
import { INPUT_SAFELY, outputOf } from '@/media/film/node/run-ffmpeg';
import { UserError } from '@/platform/user-error';
import type { OpenFilm } from './open-films';

const FRAME_MS = 20_000;
/** Small pictures for the line of time are kept; together they take so many bytes. */
const MOST_KEPT_BYTES = 32 << 20;
const MOST_KEPT_WIDTH = 512;

declare global {
  var zeroLatchFrames: LRUCache<string, Buffer> | undefined;
}
const kept = (): LRUCache<string, Buffer> =>
  (globalThis.zeroLatchFrames ??= new LRUCache({
    maxSize: MOST_KEPT_BYTES,
    sizeCalculation: (one) => one.length + 1,
  }));
/** Each is a process of its own. */
const limit = pLimit(2);
/** Those of the strip come one after the other, and hold nothing else up. */
const patient = pLimit(1);

/** One picture of a film as PNG: that which is shown at a second, as wide as asked for, or as it is. */
export async function frameOf(film: OpenFilm, seconds: number, wide: number | undefined): Promise<Buffer> {
  const { source, urls, probed } = film;
  const { picture, seconds: length } = probed[0]!;
  if (!source.hasPicture || !picture) throw new UserError(422, `${source.title} has no pictures.`);
  film.use();
  // Half a picture back, so that one that begins at that very moment is the one.
  const last = Math.max(0, (length ?? seconds) - 1 / picture.rate);
  const at = Math.max(0, Math.min(seconds + 0.25 / picture.rate, last + 0.25 / picture.rate));
  const name = `${source.stamp} ${source.index ?? ''} ${at.toFixed(4)} ${wide ?? 0}`;
  const known = kept().get(name);
  if (known) return known;
  const isSmall = wide !== undefined && wide <= MOST_KEPT_WIDTH;
  const made = await (isSmall ? patient : limit)(() => drawn(film, urls[0]!, at, wide));
  if (isSmall) kept().set(name, made);
  return made;
}

/** Back to a picture that is whole, and from there to the one that is asked for; what cannot be sought is gone through. */
async function drawn(
  { source, probed }: OpenFilm,
  url: string,
  at: number,
  wide: number | undefined,
): Promise<Buffer> {
  const { demuxer } = source.inputs[0]!;
  const scale = wide === undefined ? [] : [`scale=${wide}:-2:flags=area`];
  const { rate } = probed[0]!.picture!;
  const input = (seek: readonly string[]): string[] => [...INPUT_SAFELY, ...seek, '-f', demuxer, '-i', url];
  const out = ['-frames:v', '1', '-an', '-sn', '-c:v', 'png', '-f', 'image2pipe', 'pipe:1'];
  const run = (seek: readonly string[], filters: readonly string[]): Promise<Buffer> =>
    outputOf(
      'ffmpeg',
      [...input(seek), ...(filters.length > 0 ? ['-vf', filters.join(',')] : []), ...out],
      FRAME_MS,
      wide !== undefined,
    );
  const found = await run(['-ss', Math.max(0, at - 0.5 / rate).toFixed(5)], scale);
  // Some containers are sought by guessing where a time lies, and land behind the last picture.
  return found.length > 0
    ? found
    : run([], [`select=gte(t\\,${Math.max(0, at - 1 / rate).toFixed(5)})`, ...scale]);
}
