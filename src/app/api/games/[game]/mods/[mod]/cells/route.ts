import { ModParams, route } from '@/app/api/route-kit';
import { CellBody } from '@/app/api/cell-asked';
import { editCell } from '@/server/reading/edit-cell';

/** Gives a cell of a table another value, as a change of the mod. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { isDespite, ...asked } = await body(CellBody);
  return editCell(params.game, params.mod, asked, isDespite);
});
