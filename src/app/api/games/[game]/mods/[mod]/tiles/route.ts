import { z } from 'zod';
import { Index, ModParams, route } from '@/app/api/route-kit';
import { paintMap } from '@/server/reading/paint-map';

/** More than anybody paints in one go. */
const MOST_SPOTS = 100_000;
const TilesBody = z.object({
  table: z.string().max(4000),
  row: Index,
  field: z.string().max(4000),
  stamp: z.string().max(80),
  spots: z.array(Index).min(1).max(MOST_SPOTS),
  value: z.union([z.string().max(4000), z.number()]),
});

/** Gives spots of a map another tile, as a change of the mod. */
export const POST = route(ModParams, async ({ params, body }) =>
  paintMap(params.game, params.mod, await body(TilesBody)),
);
