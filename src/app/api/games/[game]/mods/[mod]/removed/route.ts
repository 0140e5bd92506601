import { z } from 'zod';
import { removeEntry } from '@/server/mods/add-entry';
import { openedEntry } from '@/server/opening/opened';
import { Id, ModParams, route } from '@/app/api/route-kit';

const Slot = z.object({ archiveId: Id, index: z.int().nonnegative() });

/** Takes an entry out of its archive. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { archiveId, index } = await body(Slot);
  await removeEntry(await openedEntry(params.game, archiveId, index), params.mod);
});
