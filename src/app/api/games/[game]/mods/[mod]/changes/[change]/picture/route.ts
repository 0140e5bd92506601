import { preparedBytes } from '@/server/mods';
import { toPng } from '@/platform/node/pictures';
import { pixelsOf } from '@/server/preview';
import { ChangeParams, route } from '@/app/api/route-kit';

export const GET = route(ChangeParams, async ({ params }) => {
  const { bytes, name } = await preparedBytes(params.game, params.mod, params.change);
  const png = await toPng(await pixelsOf(bytes, name));
  return new Response(new Uint8Array(png), {
    headers: { 'content-type': 'image/png', 'cache-control': 'no-store' },
  });
});
