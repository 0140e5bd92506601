import { z } from 'zod';
import { entryPng } from '@/server/looking/preview';
import { thumbnail } from '@/server/looking/thumbnails';
import { PlaceQuery } from '@/app/api/place-query';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';

const Query = PlaceQuery.extend({
  channel: z.enum(['colour', 'red', 'green', 'blue', 'alpha']).default('colour'),
  inverted: z.stringbool().default(false),
  most: z.coerce.number().int().min(8).max(4096).optional(),
});

export const GET = route(EntryParams, async ({ params, query }) => {
  const { channel, inverted, most, ...place } = query(Query);
  const isThumbnail =
    most !== undefined && most <= 512 && channel === 'colour' && Object.values(place).every((n) => n === 0);
  const opened = await openedBy(params);
  const png = isThumbnail
    ? await thumbnail(opened, most)
    : await entryPng(opened, { place, channel, inverted, most });
  return new Response(new Uint8Array(png), {
    headers: { 'content-type': 'image/png', 'cache-control': 'private, max-age=0, must-revalidate' },
  });
});
