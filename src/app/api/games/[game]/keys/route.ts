import { z } from 'zod';
import { enqueue } from '@/server/running/jobs';
import { addKeys, listKeys } from '@/server/opening/keyring';
import { GameParams, route } from '@/app/api/route-kit';

const Pasted = z.object({
  text: z.string().min(1).max(200_000),
  label: z.string().trim().max(120).default(''),
  tiedTo: z.string().trim().max(500).default(''),
  version: z.string().trim().max(120).default(''),
});

export const GET = route(GameParams, ({ params }) => listKeys(params.game));
export const POST = route(GameParams, async ({ params, body }) => {
  const { text, label, ...only } = await body(Pasted);
  const result = await addKeys(params.game, text, label, only);
  const job = await enqueue('scan', 'Try the keys', { gameId: params.game });
  return { ...result, job };
});
