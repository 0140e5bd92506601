import { z } from 'zod';
import { stepDesk } from '@/server/desk/edit-lines';
import { AskedTongues, By, deskOf } from '@/app/api/desk-asked';
import { ModParams, route } from '@/app/api/route-kit';

const Body = z.object({ ...AskedTongues.shape, direction: z.enum(['undo', 'redo']), by: By });

export const POST = route(ModParams, async ({ params, body }) => {
  const { direction, by, ...asked } = await body(Body);
  const { tongues } = await deskOf(params, asked);
  return stepDesk(params.mod, tongues.target, direction, by);
});
