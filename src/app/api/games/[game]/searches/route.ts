import { z } from 'zod';
import { GameParams, Id, route } from '@/app/api/route-kit';
import { dropSearch, keepSearch, listSearches } from '@/server/entries/saved-searches';

const Search = z.object({ title: z.string().trim().min(1).max(120), address: z.string().max(4000) });

export const GET = route(GameParams, ({ params }) => listSearches(params.game));
export const POST = route(GameParams, async ({ params, body }) =>
  keepSearch(params.game, await body(Search)),
);
export const DELETE = route(GameParams, async ({ params, query }) =>
  dropSearch(params.game, query(z.object({ id: Id })).id),
);
