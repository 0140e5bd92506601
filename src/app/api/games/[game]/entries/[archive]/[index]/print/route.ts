import { printResponse } from '@/server/looking/prints';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';
import { PrintQuery } from './query';

/** A model as it would be printed. */
export const GET = route(EntryParams, async ({ params, query }) =>
  printResponse(await openedBy(params), query(PrintQuery).settings),
);
