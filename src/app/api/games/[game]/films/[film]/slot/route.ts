import { FilmParams } from '@/app/api/film-params';
import { route } from '@/app/api/route-kit';
import { openFilm } from '@/server/films/open-films';
import { refuseUnmade, slotOf } from '@/server/films/slot';

/** What a new film has to be coded as; an answer that says why where none can be made. */
export const GET = route(FilmParams, async ({ params }) => {
  const film = await openFilm(params.game, params.film);
  const slot = await slotOf(film);
  refuseUnmade(film, slot);
  return slot;
});
