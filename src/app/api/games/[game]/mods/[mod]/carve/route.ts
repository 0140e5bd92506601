import { Readable } from 'node:stream';
import { z } from 'zod';
import { putBuried } from '@/server/carve';
import { receiveBlob } from '@/server/storage';
import { UserError } from '@/server/user-error';
import { BuriedQuery } from '@/app/api/buried-query';
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
  if (!request.body) throw new UserError(400, `${name} is empty. Nothing was changed.`);
  const { sha256 } = await receiveBlob(Readable.fromWeb(request.body as never));
  const slot = { archiveId: archive, index };
  return { fit: await putBuried(params.game, params.mod, slot, buried, { name, blob: sha256 }, resize) };
});
