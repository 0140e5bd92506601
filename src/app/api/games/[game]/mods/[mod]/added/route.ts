import { z } from 'zod';
import { addEntry, likesFor } from '@/server/mods/add-entry';
import { modRow } from '@/server/mods/mods';
import { receiveFile } from '@/app/api/receive';
import { Id, Index, ModParams, route } from '@/app/api/route-kit';

const Path = z.string().min(1).max(1000);
const Asked = z.object({ archive: Id, path: Path });
const Added = Asked.extend({ name: z.string().min(1).max(255), like: Index.optional() });

/** The entries that a new one under this path may be stored like, the likeliest first. */
export const GET = route(ModParams, async ({ params, query }) => {
  const { archive, path } = query(Asked);
  await modRow(params.game, params.mod);
  return likesFor(params.game, archive, path);
});

/** Adds an entry to an archive. The body is the file itself, streamed. */
export const PUT = route(ModParams, async ({ params, query, request }) => {
  const { archive, path, name, like } = query(Added);
  const { sha256, size } = await receiveFile(request, name);
  const slot = { archiveId: archive, path, like };
  return { fit: await addEntry(params.game, params.mod, slot, { name, blob: sha256, size }) };
});
