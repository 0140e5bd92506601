import { z } from 'zod';
import { changeGame, findGame, removeGame } from '@/server/games/games';
import { activeInstallation } from '@/server/installing/installations';
import { GameParams, route } from '@/app/api/route-kit';

const Changes = z.object({
  title: z.string().trim().min(1).max(120).optional(),
  notes: z.string().max(20_000).optional(),
  folder: z.string().trim().min(1).max(4096).optional(),
  takeOver: z.boolean().optional(),
});

export const GET = route(GameParams, ({ params }) => findGame(params.game));
export const PATCH = route(GameParams, async ({ params, body }) =>
  changeGame(params.game, await body(Changes)),
);
export const DELETE = route(GameParams, async ({ params }) =>
  removeGame(params.game, (await activeInstallation(params.game)) !== undefined),
);
