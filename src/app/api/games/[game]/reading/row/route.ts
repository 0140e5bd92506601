import { z } from 'zod';
import { GameParams, Id, Index, route } from '@/app/api/route-kit';
import { openReading } from '@/server/reading/open-reading';
import { rowView } from '@/server/reading/row-view';

const Query = z.object({ table: z.string().max(4000), row: Index, mod: Id.optional() });

/** A row with all that it says, and every place that says it. */
export const GET = route(GameParams, async ({ params, query }) => {
  const { table, row, mod } = query(Query);
  return rowView(await openReading(params.game, mod), table, row);
});
