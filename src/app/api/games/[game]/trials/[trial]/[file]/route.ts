import { z } from 'zod';
import { trialFile } from '@/server/running/trials';
import { GameParams, Id, route } from '@/app/api/route-kit';

export const GET = route(GameParams.extend({ trial: Id, file: z.string().max(100) }), async ({ params }) => {
  const { bytes, type } = await trialFile(params.game, params.trial, params.file);
  return new Response(bytes as Uint8Array<ArrayBuffer>, {
    headers: {
      'content-type': type,
      'content-security-policy': "default-src 'self' 'unsafe-inline'; script-src 'none'",
      'cache-control': 'no-store',
    },
  });
});
