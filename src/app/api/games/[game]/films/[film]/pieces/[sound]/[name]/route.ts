import { z } from 'zod';
import { FilmParams } from '@/app/api/film-params';
import { Index, route } from '@/app/api/route-kit';
import { openFilm } from '@/server/films/open-films';
import { pieceList, pieceOf } from '@/server/films/pieces';

const Params = FilmParams.extend({ sound: Index, name: z.string().regex(/^(?:list\.m3u8|\d{1,7}\.ts)$/) });

/** The list of the pieces of a film that is coded anew while it is watched, or one of them. */
export const GET = route(Params, async ({ params: { game, film: key, sound, name } }) => {
  const film = await openFilm(game, key);
  if (name === 'list.m3u8')
    return new Response(pieceList(film), { headers: { 'content-type': 'application/vnd.apple.mpegurl' } });
  const piece = await pieceOf(film, sound, Number.parseInt(name, 10));
  return new Response(new Uint8Array(piece), {
    headers: { 'content-type': 'video/mp2t', 'cache-control': 'private, max-age=60' },
  });
});
