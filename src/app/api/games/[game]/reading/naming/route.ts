import { z } from 'zod';
import { GameParams, Id, Index, route } from '@/app/api/route-kit';
import { namingEntry } from '@/server/reading/naming';

const Query = z.object({ archive: Id, index: Index });

/** The rows of tables that name an entry of the game. */
export const GET = route(GameParams, ({ params, query }) => {
  const { archive, index } = query(Query);
  return namingEntry(params.game, archive, index);
});
