import { z } from 'zod';
import { ITEM_STATES } from '@/platform/node/run-log';
import { someOfLog } from '@/server/recipes/run-log';
import { route } from '@/app/api/route-kit';

const Wanted = z.object({
  state: z.enum(ITEM_STATES).optional(),
  text: z.string().max(400).default(''),
  offset: z.coerce.number().int().nonnegative().default(0),
  limit: z.coerce.number().int().positive().max(1000).default(200),
});

/** What became of the entries of an extraction. */
export const GET = route(z.object({ job: z.uuid() }), async ({ params, query }) =>
  someOfLog(params.job, query(Wanted)),
);
