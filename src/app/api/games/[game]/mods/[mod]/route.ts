import { z } from 'zod';
import { removeMod, renameMod } from '@/server/mods';
import { ModParams, route } from '@/app/api/route-kit';

export const PATCH = route(ModParams, async ({ params, body }) =>
  renameMod(
    params.game,
    params.mod,
    (await body(z.object({ title: z.string().trim().min(1).max(120) }))).title,
  ),
);
export const DELETE = route(ModParams, ({ params }) => removeMod(params.game, params.mod));
