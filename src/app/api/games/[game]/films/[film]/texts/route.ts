import { create } from 'content-disposition';
import { z } from 'zod';
import { FilmParams } from '@/app/api/film-params';
import { Id, route } from '@/app/api/route-kit';
import { toSrt, toVtt } from '@/media/film/core';
import { addText } from '@/server/films/add-text';
import { matchTexts, putTexts } from '@/server/films/film-texts';
import { filmView } from '@/server/films/film-view';
import { UserError } from '@/platform/user-error';

const Query = z.object({
  language: z.string().max(10).default(''),
  form: z.enum(['vtt', 'srt']).default('vtt'),
  save: z.string().optional(),
});

/** What is written below a film in one language. */
export const GET = route(FilmParams, async ({ params, query }) => {
  const { language, form, save } = query(Query);
  const { texts, title } = await filmView(params.game, params.film);
  const own = texts.find((one) => one.language === language);
  if (!own) throw new UserError(404, `${title} has no texts in that language.`);
  const stem = title
    .split('/')
    .pop()!
    .replace(/\.[^.]*$/, '');
  const name = `${stem}${language === '' ? '' : `.${language}`}.${form}`;
  return new Response(form === 'vtt' ? toVtt(own.lines) : toSrt(own.lines), {
    headers: {
      'content-type': form === 'vtt' ? 'text/vtt; charset=utf-8' : 'application/x-subrip; charset=utf-8',
      ...(save !== undefined && { 'content-disposition': create(name) }),
    },
  });
});

const Taken = z.object({
  mod: Id,
  language: z.string().max(10),
  texts: z
    .array(z.object({ key: z.string().min(1).max(400), text: z.string().max(4000) }))
    .min(1)
    .max(100_000),
});

/** Puts other texts below a film; they become a change of the table that they are kept in. */
export const PATCH = route(FilmParams, async ({ params, body }) => {
  const { mod, language, texts } = await body(Taken);
  const byKey = new Map(texts.map(({ key, text }) => [key, text]));
  return { fit: await putTexts(params.game, params.film, mod, language, byKey) };
});

const Added = z.object({
  mod: Id,
  from: z.number().nonnegative().max(1e7),
  to: z.number().nonnegative().max(1e7),
  text: z.string().trim().min(1).max(4000),
});

/** Adds a text below a film, in each language that it has texts in. */
export const PUT = route(FilmParams, async ({ params, body }) => {
  const { mod, from, to, text } = await body(Added);
  if (to <= from) throw new UserError(422, 'A text has to be shown for some time.');
  return addText(params.game, params.film, mod, { from, to, text });
});

const File = z.object({ language: z.string().max(10), file: z.string().max(4_000_000) });

/** What a file of subtitles would put below a film; nothing is changed. */
export const POST = route(FilmParams, async ({ params, body }) => {
  const { language, file } = await body(File);
  return matchTexts(params.game, params.film, language, file);
});
