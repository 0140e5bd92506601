import { create } from 'content-disposition';
import { Readable } from 'node:stream';
import { z } from 'zod';
import { zipOf } from '@/server/recipes/extraction';
import { route } from '@/app/api/route-kit';

export const GET = route(z.object({ ticket: z.uuid() }), async ({ params }) => {
  const stream = zipOf(params.ticket);
  return new Response(Readable.toWeb(stream) as ReadableStream, {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': create('zero-latch-pick.zip'),
    },
  });
});
