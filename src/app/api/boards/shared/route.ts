import { z } from 'zod';
import { takeBoard } from '@/server/boards/boards';
import { Id, route } from '@/app/api/route-kit';

const Given = z.object({ board: z.unknown(), game: Id.optional() });

/** Takes in a board that somebody shared. */
export const POST = route(z.object({}), async ({ body }) => {
  const { board, game } = await body(Given);
  return takeBoard(board, game);
});
