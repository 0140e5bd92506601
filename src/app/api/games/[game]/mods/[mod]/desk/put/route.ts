import { z } from 'zod';
import { putLines } from '@/server/desk/put-lines';
import { ModParams, route } from '@/app/api/route-kit';

const Body = z.object({ isDespite: z.boolean().default(false) });

/** Puts the lines into the changes of the mod. */
export const POST = route(ModParams, async ({ params, body }) =>
  putLines(params.game, params.mod, (await body(Body)).isDespite),
);
