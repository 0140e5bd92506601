import { z } from 'zod';
import { entryBytes } from '@/server/looking/preview';
import { EntryParams, Index, openedBy, route } from '@/app/api/route-kit';

const Query = z.object({
  offset: Index.default(0),
  length: z.coerce.number().int().min(1).max(65_536).default(4096),
});

export const GET = route(EntryParams, async ({ params, query }) => {
  const { offset, length } = query(Query);
  const bytes = entryBytes(await openedBy(params), offset, length);
  return new Response(bytes as Uint8Array<ArrayBuffer>, {
    headers: { 'content-type': 'application/octet-stream' },
  });
});
