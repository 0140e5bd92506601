import { z } from 'zod';
import { ChangeParams, Index, route } from '@/app/api/route-kit';
import { oldBytes } from '@/server/looking/compare';

const Query = z.object({
  offset: Index.default(0),
  length: z.coerce.number().int().min(1).max(65_536).default(4096),
});

export const GET = route(ChangeParams, async ({ params, query }) => {
  const { offset, length } = query(Query);
  const bytes = await oldBytes(params.game, params.mod, params.change, offset, length);
  return new Response(bytes as Uint8Array<ArrayBuffer>, {
    headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' },
  });
});
