import { z } from 'zod';
import { refOfSpan, windowOf } from '@/core/bytes';
import { shownAs, START_BYTES, typeOfHead } from '@/core/kinds';
import { rangedAnswer } from '@/app/api/ranged-answer';
import { FilmParams } from '@/app/api/film-params';
import { Index, route } from '@/app/api/route-kit';
import { keepOpened } from '@/server/opening/held';
import { playingFor } from '@/server/films/film-view';
import { openFilm } from '@/server/films/open-films';
import { wholeFilm } from '@/server/films/whole';
import { openFileSource } from '@/platform/node/file-source';

const Query = z.object({ sound: Index.default(0) });

/** The film with one sound in a container that browsers play: as it lies, where that is one, else put into one. */
export const GET = route(FilmParams, async ({ params, request, query }) => {
  const film = await openFilm(params.game, params.film);
  const { sound } = query(Query);
  if (playingFor(film, sound).how === 'as it is') {
    // Whoever watches may take its bytes as slowly as it plays.
    film.use();
    const using = setInterval(() => film.use(), 10_000);
    const over = keepOpened();
    const { ref } = film.source.inputs[0]!;
    const type = shownAs(typeOfHead(windowOf(ref, 0, START_BYTES))) ?? 'application/octet-stream';
    return rangedAnswer(request, ref, { 'content-type': type }, () => {
      clearInterval(using);
      over();
    });
  }
  const { file, type } = await wholeFilm(film, sound);
  const source = openFileSource(file, file);
  const whole = refOfSpan(source, 0, source.length);
  return rangedAnswer(request, whole, { 'content-type': type }, () => source.close());
});
