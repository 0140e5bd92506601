import { create } from 'content-disposition';
import { z } from 'zod';
import { FilmParams } from '@/app/api/film-params';
import { route } from '@/app/api/route-kit';
import { frameOf } from '@/server/films/frames';
import { openFilm } from '@/server/films/open-films';

const Query = z.object({
  at: z.coerce.number().min(0).max(1e6),
  wide: z.coerce.number().int().min(16).max(4096).optional(),
  save: z.string().optional(),
});

/** One picture of a film, drawn or saved. */
export const GET = route(FilmParams, async ({ params, query }) => {
  const { at, wide, save } = query(Query);
  const film = await openFilm(params.game, params.film);
  const png = await frameOf(film, at, wide);
  const stem = film.source.title
    .split('/')
    .pop()!
    .replace(/\.[^.]*$/, '');
  return new Response(new Uint8Array(png), {
    headers: {
      ...{ 'content-type': 'image/png', 'cache-control': 'private, max-age=60' },
      ...(save !== undefined && { 'content-disposition': create(`${stem}-${at.toFixed(3)}s.png`) }),
    },
  });
});
