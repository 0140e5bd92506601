import { findEntries } from '@/server/entries/entries';
import { EntryQueryParams, entryQuery } from '@/app/api/entry-query';
import { GameParams, Index, route } from '@/app/api/route-kit';
import { z } from 'zod';

const Page = EntryQueryParams.extend({
  offset: Index.default(0),
  limit: z.coerce.number().int().min(1).max(500).default(200),
});

export const GET = route(GameParams, ({ params, query }) => {
  const { offset, limit, ...rest } = query(Page);
  return findEntries({ ...entryQuery(params.game, rest), offset, limit });
});
