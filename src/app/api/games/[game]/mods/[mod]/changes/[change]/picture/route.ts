import { z } from 'zod';
import { CHANNEL_NAMES } from '@/core/media/texture';
import { preparedBytes } from '@/server/mods';
import { toPng } from '@/platform/node/pictures';
import { pixelsOf } from '@/server/preview';
import { ChangeParams, route } from '@/app/api/route-kit';

const Query = z.object({ channel: z.enum(['colour', ...CHANNEL_NAMES]).default('colour') });

export const GET = route(ChangeParams, async ({ params, query }) => {
  const { channel } = query(Query);
  const { bytes, name } = await preparedBytes(params.game, params.mod, params.change);
  const png = await toPng(await pixelsOf(bytes, name), channel);
  return new Response(new Uint8Array(png), {
    headers: { 'content-type': 'image/png', 'cache-control': 'no-store' },
  });
});
