import { buriedFile } from '@/server/looking/carve';
import { BuriedQuery } from '@/app/api/buried-query';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';

/** The bytes of a buried picture in a common format. */
export const GET = route(EntryParams, async ({ params, query }) => {
  const { mod, ...buried } = query(BuriedQuery);
  const bytes = await buriedFile(await openedBy(params), mod, buried);
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' },
  });
});
