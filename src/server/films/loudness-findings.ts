import type { Finding } from '@/core/fit';
import type { Loudness } from '@/media/film/core/probed';
import { measureLoudness } from '@/media/film/node/loudness';
import { foundInFilm } from '@/media/film/core/wording';
import { servedFile } from '@/platform/node/served-file';
import type { FilmWork } from './code-film';
import { loudnessOfSound } from './loudness';

/** From so many LU on one hears it. */
const HEARD = 4;
const MEASURE_MS = 600_000;

/** What there is to say of how loud a sound is that was made in the place of one. */
export function loudnessFindings(made: Loudness, old: Loudness): Finding[] {
  const [is, was] = [made.whole, old.whole];
  if (was === null) return [];
  if (is === null) return [foundInFilm('look', 'now-silent', { was })];
  return Math.abs(is - was) >= HEARD ? [foundInFilm('look', 'other-loudness', { is, was })] : [];
}

/** The same of the sounds of a file that was made, by their numbers there and in the film that it replaces. */
export async function loudnessOfMade(
  { film, job }: FilmWork,
  file: string,
  demuxer: string,
  sounds: readonly { readonly stream: number; readonly sound: number }[],
): Promise<Finding[]> {
  return servedFile(file, async (url) => {
    const found: Finding[] = [];
    for (const { stream, sound } of sounds) {
      job.check();
      const made = await measureLoudness({ url, demuxer, stream }, MEASURE_MS);
      found.push(...loudnessFindings(made, await loudnessOfSound(film, sound, MEASURE_MS)));
    }
    return found;
  });
}

/** By how many dB each sound of the new film is made louder, so that it is as loud as the old one; 0 for those that are not its own. */
export async function gainsOf({ film, given, wish }: FilmWork): Promise<number[]> {
  const gains: number[] = [];
  for (const [sound, own] of wish.sounds.entries()) {
    if (!wish.even || typeof own === 'string') {
      gains.push(0);
      continue;
    }
    const { url, demuxer } = given;
    const [is, was] = [
      await measureLoudness({ url, demuxer, stream: own.from }, MEASURE_MS),
      await loudnessOfSound(film, sound, MEASURE_MS),
    ];
    gains.push(is.whole === null || was.whole === null ? 0 : was.whole - is.whole);
  }
  return gains;
}
