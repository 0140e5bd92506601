import { z } from 'zod';
import { chainOf } from '@/server/entries/chain';
import { GameParams, Id, route } from '@/app/api/route-kit';

export const GET = route(GameParams, ({ params, query }) =>
  chainOf(params.game, query(z.object({ mod: Id.optional() })).mod),
);
