import { z } from 'zod';
import { GameParams, route } from '@/app/api/route-kit';
import { sayWay } from '@/server/entries/say-way';

const Said = z.object({
  scope: z.enum(['path', 'script']),
  name: z.string().min(1).max(4096),
  way: z.int().min(0).max(7).nullable(),
});

/** Says in which of several ways sounds are to be read. */
export const POST = route(GameParams, async ({ params, body }) => ({
  before: await sayWay(params.game, await body(Said)),
}));
