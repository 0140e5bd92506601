import { z } from 'zod';
import { CellBody } from '@/app/api/cell-asked';
import { ModParams, route } from '@/app/api/route-kit';
import { editItem } from '@/server/reading/edit-item';

const ItemBody = CellBody.pick({ table: true, row: true, column: true, within: true, was: true }).extend({
  does: z.enum(['copy', 'remove', 'first']),
});

/** Puts a copy of an item of a list behind it, takes it out, or puts a first one into an empty list, as a change of the mod. */
export const POST = route(ModParams, async ({ params, body }) =>
  editItem(params.game, params.mod, await body(ItemBody)),
);
