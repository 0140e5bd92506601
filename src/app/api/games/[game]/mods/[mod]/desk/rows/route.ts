import { z } from 'zod';
import { deskRows } from '@/server/desk/desk-view';
import { AskedLines, deskOf, queryOf } from '@/app/api/desk-asked';
import { ModParams, route } from '@/app/api/route-kit';

const Window = AskedLines.extend({
  from: z.coerce.number().int().nonnegative().default(0),
  count: z.coerce.number().int().min(1).max(1000).default(200),
});

export const GET = route(ModParams, async ({ params, query }) => {
  const asked = query(Window);
  return deskRows(await deskOf(params, asked), queryOf(asked), asked.from, asked.count);
});
