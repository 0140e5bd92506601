import { create } from 'content-disposition';
import { Readable } from 'node:stream';
import { FilmParams } from '@/app/api/film-params';
import { route } from '@/app/api/route-kit';
import { allFrames } from '@/server/films/all-frames';
import { openFilm } from '@/server/films/open-films';

/** All pictures of a film in a ZIP. */
export const GET = route(FilmParams, async ({ params }) => {
  const film = await openFilm(params.game, params.film);
  const stem = film.source.title
    .split('/')
    .pop()!
    .replace(/\.[^.]*$/, '');
  return new Response(Readable.toWeb(await allFrames(film)) as ReadableStream, {
    headers: { 'content-type': 'application/zip', 'content-disposition': create(`${stem}-pictures.zip`) },
  });
});
