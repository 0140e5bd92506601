import { widthsAt } from '@/server/looking/carve';
import { BuriedQuery } from '@/app/api/buried-query';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';

/** Widths that are likely at a place. */
export const GET = route(EntryParams, async ({ params, query }) => {
  const { mod, ...buried } = query(BuriedQuery);
  return widthsAt(await openedBy(params), mod, buried);
});
