import { z } from 'zod';
import { listArchives, moveArchive } from '@/server/games/archives';
import { GameParams, Id, route } from '@/app/api/route-kit';

export const GET = route(GameParams, ({ params }) => listArchives(params.game));
export const POST = route(GameParams, async ({ params, body }) => {
  const { archiveId, towards } = await body(z.object({ archiveId: Id, towards: z.enum(['first', 'last']) }));
  return moveArchive(params.game, archiveId, towards);
});
