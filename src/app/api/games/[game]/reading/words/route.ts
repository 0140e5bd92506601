import { z } from 'zod';
import { GameParams, route } from '@/app/api/route-kit';
import { dropWords, keepWords, listWords } from '@/server/reading/words';

const Body = z.object({ text: z.string().max(200_000) });
const Query = z.object({ about: z.string().max(4000) });

/** The words that steps of a game are read in. */
export const GET = route(GameParams, ({ params }) => listWords(params.game));

/** Keeps words for a field. */
export const POST = route(GameParams, async ({ params, body }) =>
  keepWords(params.game, (await body(Body)).text),
);

/** Forgets words for a field. */
export const DELETE = route(GameParams, ({ params, query }) => dropWords(params.game, query(Query).about));
