import { z } from 'zod';
import { entryPixels, toPng } from '@/server/preview';
import { thumbnail } from '@/server/thumbnails';
import { EntryParams, Index, route } from '@/app/api/route-kit';

const Query = z.object({
  channel: z.enum(['colour', 'red', 'green', 'blue', 'alpha']).default('colour'),
  level: Index.default(0),
  most: z.coerce.number().int().min(8).max(4096).optional(),
});

export const GET = route(EntryParams, async ({ params, query }) => {
  const { channel, level, most } = query(Query);
  const isThumbnail = most !== undefined && most <= 512 && channel === 'colour' && level === 0;
  const png = isThumbnail
    ? await thumbnail(params.game, params.archive, params.index, most)
    : await toPng(await entryPixels(params.game, params.archive, params.index, level), channel, most);
  return new Response(new Uint8Array(png), {
    headers: { 'content-type': 'image/png', 'cache-control': 'private, max-age=0, must-revalidate' },
  });
});
