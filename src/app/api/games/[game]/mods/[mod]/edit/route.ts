import { z } from 'zod';
import { editEntry, SoundEdits } from '@/server/mods/edit-sound';
import { openedEntry } from '@/server/opening/opened';
import { Id, Index, ModParams, route } from '@/app/api/route-kit';

const Body = z.object({ archive: Id, index: Index, edits: SoundEdits });

/** Small edits of a sound, as the mod has it by now. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { archive, index, edits } = await body(Body);
  return { fit: await editEntry(await openedEntry(params.game, archive, index), params.mod, edits) };
});
