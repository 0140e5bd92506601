import { z } from 'zod';
import { GameParams, Id, Index, route } from '@/app/api/route-kit';
import { comparedLevel, levelsOf } from '@/server/reading/levels';

const Query = z.object({ table: z.string().max(4000), archive: Id.optional(), index: Index.optional() });

/** The files of a table's path in all archives; with one of them, what the one that the game finds says otherwise. */
export const GET = route(GameParams, ({ params, query }) => {
  const { table, archive, index } = query(Query);
  return archive === undefined || index === undefined
    ? levelsOf(params.game, table)
    : comparedLevel(params.game, table, archive, index);
});
