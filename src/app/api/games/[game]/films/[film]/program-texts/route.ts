import { z } from 'zod';
import { FilmParams } from '@/app/api/film-params';
import { Id, Index, route } from '@/app/api/route-kit';
import { findProgramTexts, programTextsAt, putProgramText } from '@/server/films/program-texts';

const Place = z.object({
  archiveId: Id,
  index: Index,
  offset: Index,
  encoding: z.enum(['utf-8', 'utf-16le']),
});
const Asked = z.union([z.object({ text: z.string().min(3).max(200) }), Place]);

/** Texts of a film that programs of the game keep: around one of which a part is known, or at a place that was found before. */
export const GET = route(FilmParams, ({ params, query }) => {
  const { mod } = query(z.object({ mod: Id.optional() }));
  const asked = query(Asked);
  return 'text' in asked
    ? findProgramTexts(params.game, params.film, asked.text, mod)
    : programTextsAt(params.game, params.film, asked, mod);
});

export const PATCH = route(FilmParams, async ({ params, body }) => {
  const { mod, ...changed } = await body(Place.extend({ mod: Id, text: z.string().max(2000) }));
  return { fit: await putProgramText(params.game, params.film, mod, changed) };
});
