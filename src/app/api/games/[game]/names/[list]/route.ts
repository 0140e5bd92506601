import { enqueue } from '@/server/jobs';
import { removeNameList } from '@/server/keyring';
import { GameParams, Id, route } from '@/app/api/route-kit';

export const DELETE = route(GameParams.extend({ list: Id }), async ({ params }) => {
  await removeNameList(params.game, params.list);
  return enqueue('scan', 'Name the entries again', { gameId: params.game });
});
