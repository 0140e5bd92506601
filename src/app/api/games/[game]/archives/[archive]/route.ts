import { z } from 'zod';
import { GameParams, Id, route } from '@/app/api/route-kit';
import { chooseScript } from '@/server/games/archives';
import { enqueue } from '@/server/running/jobs';

const Choice = z.object({ script: z.string().min(1).max(120).nullable() });

/** Opens the archive with another script from now on; `null` goes back to the one that recognises it. */
export const PATCH = route(GameParams.extend({ archive: Id }), async ({ params, body }) => {
  await chooseScript(params.game, params.archive, (await body(Choice)).script);
  return enqueue('scan', 'Try another script', { gameId: params.game });
});
