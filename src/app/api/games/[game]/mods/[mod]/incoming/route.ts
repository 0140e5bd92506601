import { z } from 'zod';
import { meantByNameOrLook, replacePath } from '@/server/mods/incoming';
import { modRow } from '@/server/mods/mods';
import { receiveFile } from '@/app/api/receive';
import { ModParams, route } from '@/app/api/route-kit';

const Named = z.object({ name: z.string().min(1).max(255), folder: z.string().max(2000).default('') });

/** A file that finds its entry by its name, below a folder or anywhere, or by what it looks like. The body is the file itself, streamed. */
export const PUT = route(ModParams, async ({ params, query, request }) => {
  const { name, folder } = query(Named);
  await modRow(params.game, params.mod);
  const { sha256, size } = await receiveFile(request, name);
  const { path, by } = await meantByNameOrLook(params.game, folder, name, sha256);
  const fit = await replacePath(params.game, params.mod, path, { name, blob: sha256, size });
  return { path, by, fit };
});
