import { z } from 'zod';
import { Retouch, retouch, retouched } from '@/server/mods/retouch';
import { toPng } from '@/media/picture/node/pictures';
import { openedEntry } from '@/server/opening/opened';
import { receiveFile } from '@/app/api/receive';
import { Id, Index, ModParams, route } from '@/app/api/route-kit';

const Body = Retouch.extend({
  archive: Id,
  index: Index,
  /** Only shows what would come of it. */
  preview: z.boolean().default(false),
});

/** Keeps a picture that is to be put into another one; the body is the file itself, streamed. */
export const PUT = route(ModParams, async ({ query, request }) => {
  const { name } = query(z.object({ name: z.string().min(1).max(255) }));
  const { sha256 } = await receiveFile(request, name);
  return { blob: sha256 };
});

/** Puts pieces back into a sheet, makes small edits and stamps; or shows what would come of it. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { archive, index, preview, ...wanted } = await body(Body);
  const opened = await openedEntry(params.game, archive, index);
  if (!preview) return retouch(opened, params.mod, wanted);
  const { pixels } = await retouched(opened, params.mod, wanted);
  return new Response(new Uint8Array(await toPng(pixels)), {
    headers: { 'content-type': 'image/png', 'cache-control': 'no-store' },
  });
});
