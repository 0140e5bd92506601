import { z } from 'zod';
import { GameParams, Index, route } from '@/app/api/route-kit';
import { openReading } from '@/server/reading/reading';
import { rowView } from '@/server/reading/reading-view';

const Query = z.object({ table: z.string().max(4000), row: Index });

/** A row with all that it says, and every place that says it. */
export const GET = route(GameParams, async ({ params, query }) => {
  const { table, row } = query(Query);
  return rowView(await openReading(params.game), table, row);
});
