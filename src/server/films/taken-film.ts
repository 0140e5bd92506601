import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { encode } from '@/media/film/node/encode';
import { FILM_TARGETS, isCodedAnew, takenArguments, type TakenSound } from '@/media/film/node/converters';
import { UserError } from '@/platform/user-error';
import { secondsOf, soundAt } from './film-view';
import type { OpenFilm } from './open-films';

export const FILM_FORMS = ['mkv', 'mp4', 'webm'] as const;
export type FilmForm = (typeof FILM_FORMS)[number];

/** Whoever takes a film out from its page waits for it; longer ones are coded by a job. */
const MOST_CODED_SECONDS = 600;

/** A film with those of its sounds that are wanted as one file, which lies with the open film; coded anew only where the form does not hold it. */
export async function takenFilm(
  film: OpenFilm,
  form: FilmForm,
  wanted: readonly number[],
  check: () => void,
): Promise<string> {
  const { source, probed, urls } = film;
  const sounds = wanted.map((sound): TakenSound => {
    const at = soundAt(film, sound);
    if (!at) throw new UserError(422, `${source.title} has no sound ${sound + 1}.`);
    const own = probed[at.input]!.sounds[at.stream]!;
    return { ...at, codec: own.codec, language: source.languages?.[sound] ?? own.language };
  });
  const picture = probed[0]!.picture?.codec;
  if (picture === undefined && sounds.length === 0)
    throw new UserError(422, 'Nothing of it is wanted: choose a sound.');
  const target = FILM_TARGETS[form];
  const demuxers = source.inputs.map(({ demuxer }) => demuxer);
  const whole = { demuxers, picture, sounds, target };
  if (isCodedAnew(whole) && secondsOf(film) > MOST_CODED_SECONDS)
    throw new UserError(
      422,
      `${source.title} is too long to be coded as ${form.toUpperCase()} while somebody waits. Take it as MKV, or extract it, which is a job.`,
    );
  const file = path.join(film.folder, `taken-${randomUUID()}${target.ending}`);
  film.use();
  await encode(takenArguments({ ...whole, file }, urls), {
    check,
    progress: () => film.use(),
  });
  return file;
}
