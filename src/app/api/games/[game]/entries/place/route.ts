import { EntryQueryParams, entryQuery } from '@/app/api/entry-query';
import { GameParams, Id, Index, route } from '@/app/api/route-kit';
import { findPlace } from '@/server/entries/entries';

const Place = EntryQueryParams.extend({ ofArchive: Id, ofIndex: Index });

/** Where an entry stands in a list, so that it can be scrolled to. */
export const GET = route(GameParams, async ({ params, query }) => {
  const { ofArchive, ofIndex, ...rest } = query(Place);
  const wanted = { ...entryQuery(params.game, rest), offset: 0, limit: 1 };
  return { place: await findPlace(wanted, { archiveId: ofArchive, index: ofIndex }) };
});
