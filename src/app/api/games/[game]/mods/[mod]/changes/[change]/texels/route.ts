import { preparedBytes } from '@/server/mods';
import { texelResponse } from '@/server/texels';
import { PlaceQuery } from '@/app/api/place-query';
import { ChangeParams, route } from '@/app/api/route-kit';

export const GET = route(ChangeParams, async ({ params, query }) => {
  const place = query(PlaceQuery);
  const { bytes, name } = await preparedBytes(params.game, params.mod, params.change);
  return texelResponse(bytes, name, place);
});
