import { create } from 'content-disposition';
import { joinedStrip } from '@/server/boards/joined';
import { BoardParams, route } from '@/app/api/route-kit';

/** A strip as one sound, to be heard or, where that is asked for, saved. */
export const GET = route(BoardParams, async ({ params, request }) => {
  const { title, bytes } = await joinedStrip(params.board);
  const isSaved = new URL(request.url).searchParams.has('save');
  return new Response(bytes as Uint8Array<ArrayBuffer>, {
    headers: {
      'content-type': 'audio/wav',
      'content-length': String(bytes.length),
      'content-disposition': create(`${title}.wav`, { type: isSaved ? 'attachment' : 'inline' }),
      'cache-control': 'no-store',
    },
  });
});
