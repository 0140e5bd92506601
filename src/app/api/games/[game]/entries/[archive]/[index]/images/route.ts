import { create } from 'content-disposition';
import { Readable } from 'node:stream';
import { allImages } from '@/server/looking/all-images';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';

/** Every image of a picture as a PNG each, in a ZIP. */
export const GET = route(EntryParams, async ({ params }) => {
  const { stream, stem } = allImages(await openedBy(params));
  return new Response(Readable.toWeb(stream) as ReadableStream, {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': create(`${stem}.zip`),
    },
  });
});
