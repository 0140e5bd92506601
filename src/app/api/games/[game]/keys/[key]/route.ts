import { z } from 'zod';
import { enqueue } from '@/server/running/jobs';
import { changeKey, keyInHex, removeKey } from '@/server/opening/keyring';
import { GameParams, Id, route } from '@/app/api/route-kit';

const Params = GameParams.extend({ key: Id });

const Change = z.object({
  label: z.string().trim().min(1).max(120).optional(),
  tiedTo: z.string().trim().max(500).optional(),
  version: z.string().trim().max(120).optional(),
});

/** The key itself, asked for by hand; lists show only its ends. */
export const GET = route(Params, async ({ params }) => ({ hex: await keyInHex(params.game, params.key) }));
export const PATCH = route(Params, async ({ params, body }) => {
  const { label, tiedTo, version } = await body(Change);
  await changeKey(params.game, params.key, {
    ...(label !== undefined && { label }),
    ...(tiedTo !== undefined && { tiedTo }),
    ...(version !== undefined && { version }),
  });
  return enqueue('scan', 'Try the key again', { gameId: params.game });
});
export const DELETE = route(Params, async ({ params }) => {
  await removeKey(params.game, params.key);
  return enqueue('scan', 'Lock what the key opened', { gameId: params.game });
});
