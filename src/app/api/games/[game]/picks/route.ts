import { z } from 'zod';
import { Conversions } from '@/core/recipe';
import { issueTicket } from '@/server/recipes/extraction';
import { GameParams, Id, Index, route } from '@/app/api/route-kit';

const Pick = z.object({
  entries: z
    .array(z.object({ archiveId: Id, index: Index }))
    .min(1)
    .max(1_000_000),
  convert: Conversions,
});

export const POST = route(GameParams, async ({ params, body }) => {
  const { entries, convert } = await body(Pick);
  return { ticket: issueTicket(params.game, entries, convert) };
});
