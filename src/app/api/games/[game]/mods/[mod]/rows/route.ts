import { z } from 'zod';
import { Index, ModParams, route } from '@/app/api/route-kit';
import { editRow } from '@/server/reading/edit-rows';

const RowBody = z.object({
  table: z.string().max(4000),
  row: Index,
  does: z.enum(['copy', 'remove']),
  key: z.string().max(4000).optional(),
  title: z.string().max(4000),
  /** Taken out although others name it. */
  isDespite: z.boolean().default(false),
});

/** Adds a row like another one to a table, or takes one out, as a change of the mod. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { isDespite, ...asked } = await body(RowBody);
  return editRow(params.game, params.mod, asked, isDespite);
});
