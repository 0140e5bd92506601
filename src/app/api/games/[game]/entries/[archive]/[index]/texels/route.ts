import { openedEntry } from '@/server/opened';
import { wholeEntry } from '@/server/preview';
import { texelResponse } from '@/server/texels';
import { PlaceQuery } from '@/app/api/place-query';
import { EntryParams, route } from '@/app/api/route-kit';

export const GET = route(EntryParams, async ({ params, query }) => {
  const place = query(PlaceQuery);
  const { archive, entry } = await openedEntry(params.game, params.archive, params.index);
  return texelResponse(wholeEntry(archive, entry), entry.path, place);
});
