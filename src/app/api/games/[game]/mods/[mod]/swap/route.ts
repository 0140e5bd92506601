import { z } from 'zod';
import { previewSwap, swapSet } from '@/server/mods/swap';
import { ModParams, route } from '@/app/api/route-kit';

const Sets = z.object({ target: z.string().min(1).max(1000), source: z.string().min(1).max(1000) });

export const GET = route(ModParams, ({ params, query }) => {
  const { target, source } = query(Sets);
  return previewSwap(params.game, target, source);
});

export const POST = route(ModParams, async ({ params, body }) => {
  const { target, source } = await body(Sets);
  return swapSet(params.game, params.mod, target, source);
});
