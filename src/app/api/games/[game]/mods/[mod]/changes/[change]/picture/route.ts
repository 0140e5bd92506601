import { z } from 'zod';
import { CHANNEL_NAMES } from '@/media/picture/core/texture';
import { preparedBytes } from '@/server/mods/mods';
import { pngOf } from '@/server/looking/preview';
import { ChangeParams, route } from '@/app/api/route-kit';

const Query = z.object({ channel: z.enum(['colour', ...CHANNEL_NAMES]).default('colour') });

export const GET = route(ChangeParams, async ({ params, query }) => {
  const { channel } = query(Query);
  const { bytes, name } = await preparedBytes(params.game, params.mod, params.change);
  const png = await pngOf(bytes, name, { channel });
  return new Response(png as Uint8Array<ArrayBuffer>, {
    headers: { 'content-type': 'image/png', 'cache-control': 'no-store' },
  });
});
