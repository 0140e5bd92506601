import { storedBlock } from '@/server/looking/texels';
import { PlaceQuery } from '@/app/api/place-query';
import { EntryParams, Index, route } from '@/app/api/route-kit';

export const GET = route(EntryParams, ({ params, query }) => {
  const { x, y, ...place } = query(PlaceQuery.extend({ x: Index, y: Index }));
  return storedBlock({ gameId: params.game, archiveId: params.archive, index: params.index }, place, x, y);
});
