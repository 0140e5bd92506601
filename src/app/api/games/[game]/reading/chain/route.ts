import { z } from 'zod';
import { GameParams, Id, Index, route } from '@/app/api/route-kit';
import { openReading } from '@/server/reading/open-reading';
import { chainView } from '@/server/reading/reading-view';

const Query = z.object({
  table: z.string().max(4000),
  row: Index,
  direction: z.enum(['leads here', 'comes of it']).default('leads here'),
  mod: Id.optional(),
  depth: z.coerce.number().int().min(1).max(12).default(3),
});

/** What leads to a row, or comes of it, step by step. */
export const GET = route(GameParams, async ({ params, query }) => {
  const { table, row, direction, mod, depth } = query(Query);
  return chainView(await openReading(params.game, mod), table, row, direction, depth);
});
