import { z } from 'zod';
import { setWorkFolder, workNotes } from '@/server/mods/work-folder';
import { ModParams, route } from '@/app/api/route-kit';

/** Files that were not taken, with why. */
export const GET = route(ModParams, ({ params }) => workNotes(params.game, params.mod));

export const POST = route(ModParams, async ({ params, body }) => {
  const { folder } = await body(z.object({ folder: z.string().trim().min(1).max(4096).nullable() }));
  await setWorkFolder(params.game, params.mod, folder);
});
