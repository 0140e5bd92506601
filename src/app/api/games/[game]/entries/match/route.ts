import { z } from 'zod';
import { EntryQueryParams, entryQuery } from '@/app/api/entry-query';
import { GameParams, route } from '@/app/api/route-kit';
import { matchBatch } from '@/server/mods/match-batch';

const Body = z.object({
  list: EntryQueryParams,
  files: z.array(z.string().min(1).max(2000)).min(1).max(20_000),
});

/** Which entries of a list files are meant for, before any is brought. */
export const POST = route(GameParams, async ({ params, body }) => {
  const { list, files } = await body(Body);
  return matchBatch(entryQuery(params.game, list), files);
});
