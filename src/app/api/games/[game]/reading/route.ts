import { z } from 'zod';
import { GameParams, Id, Index, route } from '@/app/api/route-kit';
import { hasOtherGames, hidingIn } from '@/server/reading/levels';
import { isLevel } from '@/server/reading/level-view';
import { openReading } from '@/server/reading/open-reading';
import { readingOverview, tableOfFile } from '@/server/reading/reading-view';

const Query = z.object({ archive: Id.optional(), index: Index.optional(), mod: Id.optional() });

/** The tables of a game and what points where in them; of a file, which table it has. */
export const GET = route(GameParams, async ({ params, query }) => {
  const { archive, index, mod } = query(Query);
  if (archive !== undefined && index !== undefined)
    return { table: await tableOfFile(params.game, archive, index) };
  const reading = await openReading(params.game, mod);
  return readingOverview(
    reading,
    (await hasOtherGames(params.game)) ? () => true : await hidingIn(params.game),
    (table) => isLevel(reading, table, -1),
  );
});
