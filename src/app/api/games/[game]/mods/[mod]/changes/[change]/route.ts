import { z } from 'zod';
import { mendChange, removeChange } from '@/server/mods';
import { ChangeParams, route } from '@/app/api/route-kit';

const Mend = z.object({ mend: z.enum(['resize', 'drop alpha', 'convert sound', 'convert text']) });

export const POST = route(ChangeParams, async ({ params, body }) => ({
  fit: await mendChange(params.game, params.mod, params.change, (await body(Mend)).mend),
}));
export const DELETE = route(ChangeParams, ({ params }) =>
  removeChange(params.game, params.mod, params.change),
);
