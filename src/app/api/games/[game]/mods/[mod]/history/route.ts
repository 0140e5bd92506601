import { z } from 'zod';
import { historyOf, travel } from '@/server/mods/history';
import { modRow } from '@/server/mods/mods';
import { ModParams, route } from '@/app/api/route-kit';

export const GET = route(ModParams, async ({ params }) =>
  historyOf((await modRow(params.game, params.mod)).id),
);

export const POST = route(ModParams, async ({ params, body }) => {
  const { direction } = await body(z.object({ direction: z.enum(['undo', 'redo']) }));
  return { what: await travel((await modRow(params.game, params.mod)).id, direction) };
});
