import { z } from 'zod';
import { findFolders } from '@/server/entries/entries';
import { GameParams, route } from '@/app/api/route-kit';

const Below = z.object({ path: z.string().max(2000).default('') });

export const GET = route(
  GameParams,
  async ({ params, query }) => (await findFolders(params.game, query(Below).path)) ?? null,
);
