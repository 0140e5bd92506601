import { z } from 'zod';
import { doToLines } from '@/server/desk/many-lines';
import { AskedLines, By, deskOf, queryOf, State } from '@/app/api/desk-asked';
import { ModParams, route } from '@/app/api/route-kit';

const Body = z.object({
  query: AskedLines,
  state: State.optional(),
  fill: z.boolean().optional(),
  isBack: z.boolean().optional(),
  by: By,
});

/** The same done to all lines that a query asks for. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { query, by, ...what } = await body(Body);
  return doToLines(await deskOf(params, query), queryOf(query), what, by);
});
