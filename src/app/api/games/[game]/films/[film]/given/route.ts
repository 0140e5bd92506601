import { z } from 'zod';
import { FilmParams } from '@/app/api/film-params';
import { receiveFile } from '@/app/api/receive';
import { route } from '@/app/api/route-kit';
import { givenFilm } from '@/server/films/given-film';
import { joinPictures } from '@/server/films/joined-pictures';
import { MOST_FILM_BYTES } from '@/server/storage/storage';

const Query = z.object({
  name: z.string().min(1).max(255),
  /** Of single pictures that lie one behind the other in the body: how many they are, and how many are shown a second. */
  pictures: z.coerce.number().int().min(1).max(1_000_000).optional(),
  rate: z.coerce.number().min(1).max(120).default(25),
  /** What was given before, whose sound goes with them. */
  sound: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .optional(),
});

/** Takes a film in that is to replace another; the body is the file, or single pictures one behind the other. Tells what it is. */
export const PUT = route(FilmParams, async ({ query, request }) => {
  const { name, pictures: count, rate, sound } = query(Query);
  const received = await receiveFile(request, name, MOST_FILM_BYTES);
  const { sha256, size } =
    count === undefined ? received : await joinPictures({ blob: received.sha256, name, count, rate, sound });
  const given = await givenFilm(sha256, name);
  given.close();
  return { name, blob: sha256, size, ...given.probed };
});
