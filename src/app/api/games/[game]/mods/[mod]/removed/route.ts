import { z } from 'zod';
import { removeEntry } from '@/server/mods/add-entry';
import { Id, ModParams, route } from '@/app/api/route-kit';

const Slot = z.object({ archiveId: Id, index: z.int().nonnegative() });

/** Takes an entry out of its archive. */
export const POST = route(ModParams, async ({ params, body }) => {
  await removeEntry(params.game, params.mod, await body(Slot));
});
