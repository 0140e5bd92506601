import { z } from 'zod';
import { GameParams, Id, Index, route } from '@/app/api/route-kit';
import { openReading } from '@/server/reading/open-reading';
import { rowsView } from '@/server/reading/reading-view';

const Query = z.object({
  table: z.string().max(4000),
  text: z.string().max(400).default(''),
  order: z.coerce.number().int().min(-1).max(5000).default(-1),
  backwards: z.enum(['yes', 'no']).default('no'),
  mod: Id.optional(),
  from: Index.default(0),
  count: z.coerce.number().int().min(1).max(500).default(200),
});

/** Rows of a table, what is called where they point to beside each. */
export const GET = route(GameParams, async ({ params, query }) => {
  const { table, text, order, backwards, mod, from, count } = query(Query);
  const asked = { text, order, isBackwards: backwards === 'yes' };
  return rowsView(await openReading(params.game, mod), table, asked, from, count);
});
