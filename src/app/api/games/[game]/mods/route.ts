import { z } from 'zod';
import { addMod, listMods } from '@/server/mods';
import { GameParams, route } from '@/app/api/route-kit';

export const GET = route(GameParams, ({ params }) => listMods(params.game));
export const POST = route(GameParams, async ({ params, body }) =>
  addMod(params.game, (await body(z.object({ title: z.string().trim().min(1).max(120) }))).title),
);
