import { z } from 'zod';
import { editLines, MOST_TEXT_LENGTH } from '@/server/desk/edit-lines';
import { AskedLine, AskedTongues, By, deskOf, State } from '@/app/api/desk-asked';
import { ModParams, route } from '@/app/api/route-kit';

const Edit = AskedLine.extend({
  text: z.string().max(MOST_TEXT_LENGTH).optional(),
  state: State.optional(),
  base: z.string().optional(),
  isBack: z.boolean().optional(),
});
const Body = z.object({
  ...AskedTongues.shape,
  edits: z.array(Edit).min(1).max(20_000),
  what: z.string().min(1).max(200),
  by: By,
});

export const POST = route(ModParams, async ({ params, body }) => {
  const { edits, what, by, ...asked } = await body(Body);
  return editLines(await deskOf(params, asked), edits, what, by);
});
