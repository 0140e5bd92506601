import { sharedBoard } from '@/server/boards/boards';
import { BoardParams, route, textFile } from '@/app/api/route-kit';

/** The board as a file for others, with no data of a game in it. */
export const GET = route(BoardParams, async ({ params }) => {
  const { name, text } = await sharedBoard(params.board);
  return textFile(name, text);
});
