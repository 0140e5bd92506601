import { z } from 'zod';
import { findEntries } from '@/db';
import { GameParams, Id, Index, route } from '@/app/api/route-kit';

const Query = z.object({
  folder: z.string().max(2000).default(''),
  search: z.string().max(500).default(''),
  kind: z.enum(['picture', 'sound', 'text', 'data']).optional(),
  archive: Id.optional(),
  sort: z.enum(['path', 'size', 'kind']).default('path'),
  order: z.enum(['up', 'down']).default('up'),
  offset: Index.default(0),
  limit: z.coerce.number().int().min(1).max(500).default(200),
});

export const GET = route(GameParams, ({ params, query }) => {
  const { archive, order, kind, ...rest } = query(Query);
  return findEntries({
    ...rest,
    kind,
    gameId: params.game,
    archiveId: archive,
    descending: order === 'down',
  });
});
