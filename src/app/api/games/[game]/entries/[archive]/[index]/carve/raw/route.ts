import { buriedFile } from '@/server/looking/carve';
import { BuriedQuery } from '@/app/api/buried-query';
import { EntryParams, route } from '@/app/api/route-kit';

/** The bytes of a buried picture in a common format. */
export const GET = route(EntryParams, async ({ params, query }) => {
  const { mod, ...buried } = query(BuriedQuery);
  const slot = { archiveId: params.archive, index: params.index };
  const bytes = await buriedFile(params.game, mod, slot, buried);
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' },
  });
});
