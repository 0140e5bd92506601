import { z } from 'zod';
import { keepPortrait, keptPortrait, MOST_PORTRAIT_BYTES } from '@/server/looking/portraits';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';

/** A small picture of what only a page can draw; 204 where no page has drawn it yet. */
export const GET = route(EntryParams, async ({ params }) => {
  const png = keptPortrait(await openedBy(params));
  return png
    ? new Response(png, {
        headers: { 'content-type': 'image/png', 'cache-control': 'private, max-age=0, must-revalidate' },
      })
    : new Response(null, { status: 204, headers: { 'cache-control': 'no-store' } });
});

/** Keeps what a page drew. */
export const PUT = route(EntryParams, async ({ params, body }) => {
  const { png } = await body(z.object({ png: z.base64().max(Math.ceil(MOST_PORTRAIT_BYTES / 3) * 4) }));
  keepPortrait(await openedBy(params), new Uint8Array(Buffer.from(png, 'base64')));
});
