import { ModParams, route } from '@/app/api/route-kit';
import { CellBody } from '@/app/api/cell-asked';
import { checkCellIn } from '@/server/reading/edit-cell';

/** What would be found of a value; nothing is changed. */
export const POST = route(ModParams, async ({ params, body }) =>
  checkCellIn(params.game, params.mod, await body(CellBody)),
);
