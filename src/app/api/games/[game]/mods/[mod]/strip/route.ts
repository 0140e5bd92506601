import { z } from 'zod';
import { stripOnto } from '@/server/boards/joined';
import { openedEntry } from '@/server/opening/opened';
import { Id, Index, ModParams, route } from '@/app/api/route-kit';

const Body = z.object({ archive: Id, index: Index, board: Id });

/** Puts a strip in the place of a sound. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { archive, index, board } = await body(Body);
  return { fit: await stripOnto(await openedEntry(params.game, archive, index), params.mod, board) };
});
