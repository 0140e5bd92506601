import { create } from 'content-disposition';
import { Readable } from 'node:stream';
import { zipOfBuild } from '@/server/building/build-output';
import { GameParams, Id, route } from '@/app/api/route-kit';

/** The files of a build as a ZIP, with its signed summary. */
export const GET = route(GameParams.extend({ build: Id }), async ({ params }) => {
  const { stream, title } = await zipOfBuild(params.game, params.build);
  const name = `${title.replace(/[/\\]+/g, '_')}.zip`;
  return new Response(Readable.toWeb(stream) as ReadableStream, {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': create(name),
    },
  });
});
