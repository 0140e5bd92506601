import { EntryQueryParams, entryQuery } from '@/app/api/entry-query';
import { GameParams, route } from '@/app/api/route-kit';
import { findRefs } from '@/server/entries/entries';

/** As many as can be picked at a time. */
const MOST = 200_000;

/** Everything that a list has, for picking all of it. */
export const GET = route(GameParams, ({ params, query }) =>
  findRefs({ ...entryQuery(params.game, query(EntryQueryParams)), offset: 0, limit: MOST }, MOST),
);
