import { preparedBytes } from '@/server/mods/mods';
import { texelResponse } from '@/server/looking/texels';
import { PartQuery, PlaceQuery } from '@/app/api/place-query';
import { ChangeParams, route } from '@/app/api/route-kit';

export const GET = route(ChangeParams, async ({ params, query }) => {
  const { part, ...place } = query(PlaceQuery.extend({ part: PartQuery }));
  const { bytes, name } = await preparedBytes(params.game, params.mod, params.change);
  return texelResponse(bytes, name, place, part);
});
