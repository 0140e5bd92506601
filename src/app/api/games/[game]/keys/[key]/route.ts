import { enqueue } from '@/server/jobs';
import { removeKey } from '@/server/keyring';
import { GameParams, Id, route } from '@/app/api/route-kit';

export const DELETE = route(GameParams.extend({ key: Id }), async ({ params }) => {
  await removeKey(params.game, params.key);
  return enqueue('scan', 'Lock what the key opened', { gameId: params.game });
});
