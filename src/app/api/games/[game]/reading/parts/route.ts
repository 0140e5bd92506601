import { z } from 'zod';
import { GameParams, Id, Index, route } from '@/app/api/route-kit';
import { levelView } from '@/server/reading/level-view';
import { openReading } from '@/server/reading/open-reading';

const Query = z.object({ table: z.string().max(4000), row: Index.optional(), mod: Id.optional() });

/** What a row, or without one a whole table, is put together from. */
export const GET = route(GameParams, async ({ params, query }) => {
  const { table, row = -1, mod } = query(Query);
  return levelView(await openReading(params.game, mod), table, row);
});
