import { z } from 'zod';
import { addMod, listMods } from '@/server/mods/mods';
import { orderMods } from '@/server/mods/mix';
import { GameParams, Id, route } from '@/app/api/route-kit';

export const GET = route(GameParams, ({ params }) => listMods(params.game));
export const POST = route(GameParams, async ({ params, body }) =>
  addMod(params.game, (await body(z.object({ title: z.string().trim().min(1).max(120) }))).title),
);

/** Puts the mods in an order, from first to last. */
export const PATCH = route(GameParams, async ({ params, body }) =>
  orderMods(params.game, (await body(z.object({ order: z.array(Id).max(10_000) }))).order),
);
