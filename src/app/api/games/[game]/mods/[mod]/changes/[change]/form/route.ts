import { formResponse } from '@/server/looking/forms';
import { preparedBytes } from '@/server/mods/mods';
import { ChangeParams, route } from '@/app/api/route-kit';

/** A model as a mod will have it, packed to be drawn. */
export const GET = route(ChangeParams, async ({ params }) => {
  const { bytes, name } = await preparedBytes(params.game, params.mod, params.change);
  return formResponse(bytes, name);
});
