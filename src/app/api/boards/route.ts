import { z } from 'zod';
import { addBoard, listBoards, NewBoard } from '@/server/boards/boards';
import { route } from '@/app/api/route-kit';

export const GET = route(z.object({}), () => listBoards());
export const POST = route(z.object({}), async ({ body }) => addBoard(await body(NewBoard)));
