import { z } from 'zod';
import { putBuried } from '@/server/looking/carve';
import { BuriedQuery } from '@/app/api/buried-query';
import { openedEntry } from '@/server/opening/opened';
import { receiveFile } from '@/app/api/receive';
import { Id, Index, ModParams, route } from '@/app/api/route-kit';

const Query = BuriedQuery.extend({
  archive: Id,
  index: Index,
  resize: z.stringbool().default(false),
  name: z.string().min(1).max(255),
});

/** A picture for the place of a buried one; the body is the file itself, streamed. */
export const PUT = route(ModParams, async ({ params, query, request }) => {
  const { archive, index, resize, name, ...buried } = query(Query);
  const { sha256 } = await receiveFile(request, name);
  const opened = await openedEntry(params.game, archive, index);
  return { fit: await putBuried(opened, params.mod, buried, { name, blob: sha256 }, resize) };
});
