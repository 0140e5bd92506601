import { z } from 'zod';
import { addTongue, dropTongue } from '@/server/desk/new-tongue';
import { ModParams, route } from '@/app/api/route-kit';

const Body = z.object({ tongue: z.string().trim().min(2).max(40), name: z.string().trim().min(1).max(80) });
const Gone = z.object({ tongue: z.string().min(2).max(10) });

export const POST = route(ModParams, async ({ params, body }) => {
  const { tongue, name } = await body(Body);
  return { tongue: await addTongue(params.game, params.mod, tongue, name) };
});

export const DELETE = route(ModParams, ({ params, query }) =>
  dropTongue(params.game, params.mod, query(Gone).tongue),
);
