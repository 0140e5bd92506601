import { LRUCache } from 'lru-cache';
import type { Loudness } from '@/media/film/core/probed';
import { measureLoudness } from '@/media/film/node/loudness';
import { soundAt } from './film-view';
import type { OpenFilm } from './open-films';

const LOUDNESS_MS = 120_000;
declare global {
  var zeroLatchLoudness: LRUCache<string, Promise<Loudness>> | undefined;
}
const known = (): LRUCache<string, Promise<Loudness>> =>
  (globalThis.zeroLatchLoudness ??= new LRUCache({ max: 200 }));

/** How loud each sound of a film is, in their order; gone through whole, once. */
export function loudnessOf(film: OpenFilm): Promise<Loudness[]> {
  const { source, probed } = film;
  const count = source.languages?.length ?? probed[0]!.sounds.length;
  return Promise.all(Array.from({ length: count }, (_, sound) => loudnessOfSound(film, sound)));
}

/** The same of one of them. */
export function loudnessOfSound(
  film: OpenFilm,
  sound: number,
  milliseconds = LOUDNESS_MS,
): Promise<Loudness> {
  const { source, urls } = film;
  const name = `${source.stamp} ${source.index ?? ''} ${sound}`;
  const before = known().get(name);
  if (before) return before;
  const { input, stream } = soundAt(film, sound)!;
  film.use();
  const asked = measureLoudness(
    { url: urls[input]!, demuxer: source.inputs[input]!.demuxer, stream },
    milliseconds,
  );
  known().set(name, asked);
  asked.catch(() => known().delete(name));
  return asked;
}
