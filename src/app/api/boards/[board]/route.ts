import { BoardChange, changeBoard, findBoard, removeBoard } from '@/server/boards/boards';
import { BoardParams, route } from '@/app/api/route-kit';

export const GET = route(BoardParams, ({ params }) => findBoard(params.board));
export const PATCH = route(BoardParams, async ({ params, body }) =>
  changeBoard(params.board, await body(BoardChange)),
);
export const DELETE = route(BoardParams, ({ params }) => removeBoard(params.board));
