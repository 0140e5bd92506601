import { z } from 'zod';
import { keepPickList, listPickLists, matchPasted } from '@/server/recipes/pick-lists';
import { GameParams, route } from '@/app/api/route-kit';

const Given = z.union([
  z.object({
    title: z.string().trim().min(1).max(120),
    paths: z.array(z.string().max(2000)).min(1).max(1_000_000),
    isAdded: z.boolean().default(false),
  }),
  z.object({ text: z.string().min(1).max(30_000_000) }),
]);

export const GET = route(GameParams, ({ params }) => listPickLists(params.game));
/** Keeps a list, or says which entries the lines of a text are. */
export const POST = route(GameParams, async ({ params, body }) => {
  const given = await body(Given);
  return 'text' in given
    ? matchPasted(params.game, given.text)
    : keepPickList(params.game, given.title, given.paths, given.isAdded);
});
