import { entryTexels } from '@/server/looking/texels';
import { PartQuery, PlaceQuery } from '@/app/api/place-query';
import { EntryParams, route } from '@/app/api/route-kit';

/** Texels of an image, or of a part of it; of one that is too large all of it, made smaller. */
export const GET = route(EntryParams, ({ params, query }) => {
  const { part, ...place } = query(PlaceQuery.extend({ part: PartQuery }));
  const { game: gameId, archive: archiveId, index } = params;
  return entryTexels({ gameId, archiveId, index }, place, part);
});
