import { widthsAt } from '@/server/looking/carve';
import { BuriedQuery } from '@/app/api/buried-query';
import { EntryParams, route } from '@/app/api/route-kit';

/** Widths that are likely at a place. */
export const GET = route(EntryParams, ({ params, query }) => {
  const { mod, ...buried } = query(BuriedQuery);
  return widthsAt(params.game, mod, { archiveId: params.archive, index: params.index }, buried);
});
