import { enqueue } from '@/server/running/jobs';
import { keyInHex, removeKey } from '@/server/opening/keyring';
import { GameParams, Id, route } from '@/app/api/route-kit';

const Params = GameParams.extend({ key: Id });

/** The key itself, asked for by hand; lists show only its ends. */
export const GET = route(Params, async ({ params }) => ({ hex: await keyInHex(params.game, params.key) }));
export const DELETE = route(Params, async ({ params }) => {
  await removeKey(params.game, params.key);
  return enqueue('scan', 'Lock what the key opened', { gameId: params.game });
});
