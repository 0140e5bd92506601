import { FilmParams } from '@/app/api/film-params';
import { route } from '@/app/api/route-kit';
import { FilmWish } from '@/media/film/core/film-wish';
import { estimateFilm } from '@/server/films/estimate';
import { openFilm } from '@/server/films/open-films';

export const POST = route(FilmParams, async ({ params, body }) => {
  const wish = await body(FilmWish);
  return estimateFilm(await openFilm(params.game, params.film), wish);
});
