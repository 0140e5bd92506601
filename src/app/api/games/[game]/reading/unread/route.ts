import { z } from 'zod';
import { GameParams, Id, route } from '@/app/api/route-kit';
import { openReading } from '@/server/reading/open-reading';
import { unreadView } from '@/server/reading/reading-view';

const Query = z.object({ mod: Id.optional() });

/** What nothing reads, and what leads nowhere. */
export const GET = route(GameParams, async ({ params, query }) =>
  unreadView(await openReading(params.game, query(Query).mod)),
);
