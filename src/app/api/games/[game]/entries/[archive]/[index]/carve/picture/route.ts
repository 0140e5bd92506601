import { toPng } from '@/media/picture/node/pictures';
import { buriedPixels } from '@/server/looking/carve';
import { BuriedQuery } from '@/app/api/buried-query';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';

/** A buried picture as PNG. */
export const GET = route(EntryParams, async ({ params, query }) => {
  const { mod, ...buried } = query(BuriedQuery);
  const png = await toPng(await buriedPixels(await openedBy(params), mod, buried));
  return new Response(new Uint8Array(png), {
    headers: { 'content-type': 'image/png', 'cache-control': 'no-store' },
  });
});
