import { doneByDay } from '@/server/desk/desk-view';
import { modRow } from '@/server/mods/mods';
import { z } from 'zod';
import { ModParams, route } from '@/app/api/route-kit';

const Asked = z.object({ target: z.string().max(40) });

export const GET = route(ModParams, async ({ params, query }) => {
  await modRow(params.game, params.mod);
  return doneByDay(params.mod, query(Asked).target);
});
