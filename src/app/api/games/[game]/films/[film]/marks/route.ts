import { z } from 'zod';
import { FilmParams } from '@/app/api/film-params';
import { Id, route } from '@/app/api/route-kit';
import { putMark } from '@/server/films/put-marks';

const Seconds = z.number().min(0).max(1_000_000);
const Mark = z.object({
  seconds: Seconds,
  text: z
    .string()
    .max(400)
    .regex(/^[^\n\r]*$/),
});
const Change = z.union([
  z.object({ mod: Id, was: Mark.nullable(), now: Mark.nullable() }),
  z.object({ mod: Id, key: z.string().min(1).max(400), was: Seconds, isGone: z.literal(true) }),
  z
    .object({ mod: Id, key: z.string().min(1).max(400), was: Seconds, from: Seconds, to: Seconds })
    .refine(({ from, to }) => to > from, 'A text has to end behind its beginning.'),
]);

/** Changes a mark of a film, adds one or takes one out; or says when a text is shown. */
export const PATCH = route(FilmParams, async ({ params, body }) => {
  const { mod, ...change } = await body(Change);
  return { fit: await putMark(params.game, params.film, mod, change) };
});
