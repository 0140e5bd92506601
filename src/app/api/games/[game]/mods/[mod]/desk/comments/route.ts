import { z } from 'zod';
import { addComment } from '@/server/desk/comments';
import { AskedLine, By } from '@/app/api/desk-asked';
import { ModParams, route } from '@/app/api/route-kit';

const Body = AskedLine.extend({ text: z.string().trim().min(1).max(4000), by: By });

export const POST = route(ModParams, async ({ params, body }) => {
  const { text, by, ...line } = await body(Body);
  await addComment(params.game, params.mod, line, text, by);
});
