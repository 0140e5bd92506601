import { storedBlock } from '@/server/looking/texels';
import { PlaceQuery } from '@/app/api/place-query';
import { EntryParams, Index, openedBy, route } from '@/app/api/route-kit';

export const GET = route(EntryParams, async ({ params, query }) => {
  const { x, y, ...place } = query(PlaceQuery.extend({ x: Index, y: Index }));
  return storedBlock(await openedBy(params), place, x, y);
});
