import { z } from 'zod';
import { carved } from '@/server/looking/carve';
import { EntryParams, Id, openedBy, route } from '@/app/api/route-kit';

/** Pictures that are buried in an entry. */
export const GET = route(EntryParams, async ({ params, query }) => {
  const { mod } = query(z.object({ mod: Id.optional() }));
  return carved(await openedBy(params), mod);
});
