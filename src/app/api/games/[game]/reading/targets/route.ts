import { z } from 'zod';
import { GameParams, Id, route } from '@/app/api/route-kit';
import { openReading } from '@/server/reading/open-reading';
import { targetsOf } from '@/server/reading/row-view';

const Query = z.object({
  table: z.string().max(4000),
  field: z.string().max(4000),
  text: z.string().max(400).default(''),
  mod: Id.optional(),
});

/** Rows that a field of a table may mean. */
export const GET = route(GameParams, async ({ params, query }) => {
  const { table, field, text, mod } = query(Query);
  return targetsOf(await openReading(params.game, mod), table, field, text);
});
