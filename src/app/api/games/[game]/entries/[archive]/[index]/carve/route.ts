import { z } from 'zod';
import { carved } from '@/server/looking/carve';
import { EntryParams, Id, route } from '@/app/api/route-kit';

/** Pictures that are buried in an entry. */
export const GET = route(EntryParams, ({ params, query }) => {
  const { mod } = query(z.object({ mod: Id.optional() }));
  return carved(params.game, mod, { archiveId: params.archive, index: params.index });
});
