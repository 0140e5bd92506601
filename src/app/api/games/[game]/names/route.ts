import { z } from 'zod';
import { enqueue } from '@/server/running/jobs';
import { addNameList, listNameLists } from '@/server/opening/keyring';
import { GameParams, route } from '@/app/api/route-kit';

const Names = z.object({ title: z.string().trim().min(1).max(120), text: z.string().min(1).max(30_000_000) });

export const GET = route(GameParams, ({ params }) => listNameLists(params.game));
export const POST = route(GameParams, async ({ params, body }) => {
  // Lists that programs hold part their names by NUL.
  const { title, text } = await body(Names, { mayHoldNul: true });
  const count = await addNameList(params.game, title, text);
  await enqueue('scan', 'Try the names', { gameId: params.game });
  return { count };
});
