import { z } from 'zod';
import { enqueue } from '@/server/running/jobs';
import { nameListText, removeNameList, shareNameList } from '@/server/opening/keyring';
import { GameParams, Id, route, textFile } from '@/app/api/route-kit';

const ListParams = GameParams.extend({ list: Id });

/** The list as a text file, a path a line. */
export const GET = route(ListParams, async ({ params }) => {
  const { title, text } = await nameListText(params.game, params.list);
  return textFile(`${title}.txt`, text);
});
export const PATCH = route(ListParams, async ({ params, body }) => {
  const { shared } = await body(z.object({ shared: z.boolean() }));
  await shareNameList(params.game, params.list, shared);
});
export const DELETE = route(ListParams, async ({ params }) => {
  await removeNameList(params.game, params.list);
  return enqueue('scan', 'Name the entries again', { gameId: params.game });
});
