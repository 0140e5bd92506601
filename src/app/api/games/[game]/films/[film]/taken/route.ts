import { create } from 'content-disposition';
import fs from 'node:fs';
import { z } from 'zod';
import { refOfSpan } from '@/core/bytes';
import { FilmParams } from '@/app/api/film-params';
import { rangedAnswer } from '@/app/api/ranged-answer';
import { route } from '@/app/api/route-kit';
import { openFilm } from '@/server/films/open-films';
import { FILM_FORMS, takenFilm } from '@/server/films/taken-film';
import { openFileSource } from '@/platform/node/file-source';

const Query = z.object({
  form: z.enum(FILM_FORMS).default('mkv'),
  /** Numbers of its sounds, from 0, in the order in which they are wanted. */
  sounds: z
    .string()
    .regex(/^(?:\d{1,2}(?:,\d{1,2}){0,63})?$/)
    .default(''),
});
const TYPES = { mkv: 'video/x-matroska', mp4: 'video/mp4', webm: 'video/webm' } as const;

/** The film with chosen sounds as one file to keep. */
export const GET = route(FilmParams, async ({ params, query, request }) => {
  const { form, sounds } = query(Query);
  const film = await openFilm(params.game, params.film);
  const wanted = sounds === '' ? [] : sounds.split(',').map(Number);
  const file = await takenFilm(film, form, wanted, () => request.signal.throwIfAborted());
  const source = openFileSource(file, file);
  const stem = film.source.title
    .split('/')
    .pop()!
    .replace(/\.[^.]*$/, '');
  const headers = { 'content-type': TYPES[form], 'content-disposition': create(`${stem}.${form}`) };
  return rangedAnswer(request, refOfSpan(source, 0, source.length), headers, () => {
    source.close();
    fs.rmSync(file, { force: true });
  });
});
