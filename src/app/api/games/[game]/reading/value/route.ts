import { z } from 'zod';
import { GameParams, route } from '@/app/api/route-kit';
import { openReading } from '@/server/reading/reading';
import { findValue } from '@/server/reading/reading-view';

const Query = z.object({ value: z.string().max(400) });

/** Every place of all tables that has a number or a text. */
export const GET = route(GameParams, async ({ params, query }) =>
  findValue(await openReading(params.game), query(Query).value),
);
