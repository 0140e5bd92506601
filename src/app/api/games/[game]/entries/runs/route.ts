import { entryRuns } from '@/server/entries/entries';
import { EntryQueryParams, entryQuery } from '@/app/api/entry-query';
import { GameParams, route } from '@/app/api/route-kit';

/** How a list in the order of its paths falls into folders. */
export const GET = route(GameParams, ({ params, query }) =>
  entryRuns({ ...entryQuery(params.game, query(EntryQueryParams)), offset: 0, limit: 0 }),
);
