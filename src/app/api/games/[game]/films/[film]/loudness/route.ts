import { FilmParams } from '@/app/api/film-params';
import { route } from '@/app/api/route-kit';
import { loudnessOf } from '@/server/films/loudness';
import { openFilm } from '@/server/films/open-films';

export const GET = route(FilmParams, async ({ params }) =>
  loudnessOf(await openFilm(params.game, params.film)),
);
