import { z } from 'zod';
import { keepTerm } from '@/server/desk/edit-lines';
import { AskedTongues, deskOf } from '@/app/api/desk-asked';
import { ModParams, route } from '@/app/api/route-kit';

const Body = z.object({
  ...AskedTongues.shape,
  word: z.string().trim().min(1).max(200),
  said: z.string().trim().max(200),
});

/** Has a word always be said in one way; an empty one takes that back. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { word, said, ...asked } = await body(Body);
  const { tongues } = await deskOf(params, asked);
  await keepTerm(params.mod, tongues.target, word, said);
});
