import { z } from 'zod';
import { chooseMod } from '@/server/mods/mix';
import { GameParams, Id, route } from '@/app/api/route-kit';

const Choice = z.object({ path: z.string().min(1).max(4096), modId: Id.nullable() });

/** Says which of several mods has its way at a path. */
export const POST = route(GameParams, async ({ params, body }) => {
  const { path, modId } = await body(Choice);
  await chooseMod(params.game, path, modId);
});
