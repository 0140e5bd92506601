import { z } from 'zod';
import { GameParams, Id, Index, route } from '@/app/api/route-kit';
import { mapView } from '@/server/reading/map-view';
import { openReading } from '@/server/reading/open-reading';

const Query = z.object({ table: z.string().max(4000), row: Index, mod: Id.optional() });

/** A row as a map, with what stands on it. */
export const GET = route(GameParams, async ({ params, query }) => {
  const { table, row, mod } = query(Query);
  return mapView(await openReading(params.game, mod), table, row);
});
