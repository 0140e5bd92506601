import { z } from 'zod';
import { GameParams, route } from '@/app/api/route-kit';
import { listAffixes, sayAffix } from '@/server/entries/affixes';

const Said = z.object({
  affix: z.string().trim().min(2).max(60),
  meaning: z.string().trim().max(200),
});

export const GET = route(GameParams, ({ params }) => listAffixes(params.game));
export const PATCH = route(GameParams, async ({ params, body }) => {
  const { affix, meaning } = await body(Said);
  await sayAffix(params.game, affix, meaning);
  return {};
});
