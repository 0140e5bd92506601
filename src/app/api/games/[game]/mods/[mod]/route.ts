import { z } from 'zod';
import { POLICIES } from '@/core/fit';
import { removeMod, updateMod } from '@/server/mods/mods';
import { ModParams, route } from '@/app/api/route-kit';

const Change = z.object({
  title: z.string().trim().min(1).max(120).optional(),
  policy: z.enum(POLICIES).optional(),
  together: z.boolean().optional(),
});

export const PATCH = route(ModParams, async ({ params, body }) =>
  updateMod(params.game, params.mod, await body(Change)),
);
export const DELETE = route(ModParams, ({ params }) => removeMod(params.game, params.mod));
