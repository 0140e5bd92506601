import { z } from 'zod';
import { addGame, listGames } from '@/server/games/games';
import { enqueue } from '@/server/running/jobs';
import { route } from '@/app/api/route-kit';

const None = z.object({});
const NewGame = z.object({
  title: z.string().trim().min(1).max(120),
  folder: z.string().trim().min(1).max(4096),
  notes: z.string().max(20_000).optional(),
  isSure: z.boolean().default(false),
});

export const GET = route(None, () => listGames());

export const POST = route(None, async ({ body }) => {
  const { notes, ...rest } = await body(NewGame);
  const game = await addGame({ ...rest, ...(notes !== undefined && { notes }) });
  await enqueue('scan', `Scan ${game.title}`, { gameId: game.id });
  return game;
});
