import { z } from 'zod';
import { GameParams, Id, route } from '@/app/api/route-kit';
import { openReading } from '@/server/reading/open-reading';
import { findValue } from '@/server/reading/reading-view';

const Query = z.object({ value: z.string().max(400), mod: Id.optional() });

/** Every place of all tables that has a number or a text. */
export const GET = route(GameParams, async ({ params, query }) => {
  const { value, mod } = query(Query);
  return findValue(await openReading(params.game, mod), value);
});
