import { z } from 'zod';
import { listChanges, replaceEntry } from '@/server/mods/mods';
import { openedEntry } from '@/server/opening/opened';
import { receiveFile } from '@/app/api/receive';
import { Id, Index, ModParams, route } from '@/app/api/route-kit';

const Slot = z.object({ archive: Id, index: Index, name: z.string().min(1).max(255) });
export const GET = route(ModParams, ({ params }) => listChanges(params.game, params.mod));

/** The body is the file itself, streamed. */
export const PUT = route(ModParams, async ({ params, query, request }) => {
  const { archive, index, name } = query(Slot);
  const { sha256, size } = await receiveFile(request, name);
  const opened = await openedEntry(params.game, archive, index);
  return { fit: await replaceEntry(opened, params.mod, { name, blob: sha256, size }) };
});
