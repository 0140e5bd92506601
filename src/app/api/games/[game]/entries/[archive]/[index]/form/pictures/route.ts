import { z } from 'zod';
import { formPictures } from '@/server/looking/forms';
import { jsonText } from '@/app/api/json-text';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';

const Query = z.object({
  paths: jsonText('[]').pipe(z.array(z.string().max(1024))),
  mod: z.coerce.number().int().positive().optional(),
});

/** Where the pictures are that its materials name, and others that may be its own. */
export const GET = route(EntryParams, async ({ params, query }) => {
  const { paths, mod } = query(Query);
  const { gameId, row, entry } = await openedBy(params);
  return formPictures(gameId, { archiveId: row.id, index: entry.index }, paths, mod);
});
