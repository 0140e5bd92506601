import { z } from 'zod';
import { isMend, type Mend } from '@/core/fit';
import { mendChange, shareChange } from '@/server/mods/mend';
import { noteChange, removeChange } from '@/server/mods/mods';
import { openedEntry } from '@/server/opening/opened';
import { ChangeParams, Id, Index, route } from '@/app/api/route-kit';

const Asked = z.union([
  z.strictObject({ mend: z.string().refine(isMend) }),
  /** The other half of a sheet, which is given the same picture. */
  z.strictObject({ share: z.strictObject({ archiveId: Id, index: Index }) }),
]);

export const POST = route(ChangeParams, async ({ params, body }) => {
  const { game, mod, change } = params;
  const asked = await body(Asked);
  if ('mend' in asked) return { fit: await mendChange(game, mod, change, asked.mend as Mend) };
  const half = await openedEntry(game, asked.share.archiveId, asked.share.index);
  return { fit: await shareChange(mod, change, half) };
});
export const PATCH = route(ChangeParams, async ({ params, body }) => {
  const { note } = await body(z.object({ note: z.string().max(2000) }));
  await noteChange(params.game, params.mod, params.change, note);
});
export const DELETE = route(ChangeParams, ({ params }) =>
  removeChange(params.game, params.mod, params.change),
);
