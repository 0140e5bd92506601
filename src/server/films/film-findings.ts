import fs from 'node:fs';
import type { Finding } from '@/core/fit';
import { foundInFilm } from '@/media/film/core/wording';
import { flowFindings } from '@/media/film/core/flow';
import { keyDistance } from '@/media/film/node/key-pictures';
import { servedFile } from '@/platform/node/served-file';
import type { FilmWork } from './code-film';

/** What there is to say of pictures that were made, beside those that the slot had. */
export async function findingsOfFilm(work: FilmWork, file: string, pictures: number): Promise<Finding[]> {
  const { slot, wish, marks, film } = work;
  const seconds = pictures / wish.rate;
  const bitRate = (8 * fs.statSync(file).size) / Math.max(0.01, seconds);
  const { width, height, rate, codec, keySeconds } = slot.picture!;
  // Sounds that lie in the same file count on both sides.
  const was = (8 * film.source.inputs[0]!.ref.length) / Math.max(0.01, slot.seconds);
  const distance = await servedFile(file, (url) => keyDistance(url, film.source.inputs[0]!.demuxer));
  const behind = marks.filter((mark) => mark.seconds > seconds);
  const apart = keptApart(work, seconds);
  const size = (w: number, h: number): string => `${w} x ${h}`;
  return [
    foundInFilm('fits', 'made', {
      ...{ width: wish.width, height: wish.height, rate: wish.rate, pictures, codec, bitRate },
    }),
    ...(width !== wish.width || height !== wish.height
      ? [foundInFilm('look', 'other-size', { is: size(wish.width, wish.height), was: size(width, height) })]
      : []),
    ...(Math.abs(rate - wish.rate) > 0.01
      ? [foundInFilm('look', 'other-rate', { is: wish.rate, was: rate })]
      : []),
    ...flowFindings({ bitRate, keySeconds: (distance ?? 1) / wish.rate }, { bitRate: was, keySeconds }),
    ...(behind.length > 0
      ? [
          foundInFilm('look', 'marks-behind', {
            seconds,
            marks: behind.slice(0, 5).map(({ text }) => text.slice(0, 40)),
          }),
        ]
      : []),
    ...(apart.length > 0 ? [foundInFilm('look', 'kept-apart', { seconds, sounds: apart })] : []),
  ];
}

/** Sounds that are kept may be longer or shorter than the new pictures by so much before it is pointed out. */
const APART_SECONDS = 0.5;

/** Sounds that lie beside the pictures, are kept, and end at another time. */
function keptApart({ film, wish }: FilmWork, seconds: number): { name: string; seconds: number }[] {
  const { languages } = film.source;
  return (languages ?? []).flatMap((language, i) => {
    const own = film.probed[i + 1]?.seconds;
    const isApart = own !== undefined && Math.abs(own - seconds) > APART_SECONDS;
    return (wish.sounds[i] ?? 'keep') === 'keep' && isApart
      ? [{ name: language || `sound ${i + 1}`, seconds: own }]
      : [];
  });
}
