import { z } from 'zod';
import { channelOf, type Pixels } from '@/core/media/texture';
import { toPng, type Channel } from '@/platform/node/pictures';
import { entryPixels } from '@/server/preview';
import { thumbnail } from '@/server/thumbnails';
import { PlaceQuery } from '@/app/api/place-query';
import { EntryParams, route } from '@/app/api/route-kit';

const Query = PlaceQuery.extend({
  channel: z.enum(['colour', 'red', 'green', 'blue', 'alpha']).default('colour'),
  inverted: z.stringbool().default(false),
  most: z.coerce.number().int().min(8).max(4096).optional(),
});

export const GET = route(EntryParams, async ({ params, query }) => {
  const { channel, inverted, most, ...place } = query(Query);
  const isThumbnail =
    most !== undefined && most <= 512 && channel === 'colour' && Object.values(place).every((n) => n === 0);
  const png = isThumbnail
    ? await thumbnail(params.game, params.archive, params.index, most)
    : await toPng(
        shown(await entryPixels(params.game, params.archive, params.index, place), channel, inverted),
        inverted ? 'colour' : channel,
        most,
      );
  return new Response(new Uint8Array(png), {
    headers: { 'content-type': 'image/png', 'cache-control': 'private, max-age=0, must-revalidate' },
  });
});

/** A channel that is to be inverted is taken out here; all else as it is. */
const shown = (pixels: Pixels, channel: Channel, inverted: boolean): Pixels =>
  inverted && channel !== 'colour' ? channelOf(pixels, channel, true) : pixels;
