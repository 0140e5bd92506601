import { entryTexels } from '@/server/looking/texels';
import { PartQuery, PlaceQuery } from '@/app/api/place-query';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';

/** Texels of an image, or of a part of it; of one that is too large all of it, made smaller. */
export const GET = route(EntryParams, async ({ params, query }) => {
  const { part, ...place } = query(PlaceQuery.extend({ part: PartQuery }));
  return entryTexels(await openedBy(params), place, part);
});
