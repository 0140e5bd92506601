import { z } from 'zod';
import { GameParams, route } from '@/app/api/route-kit';
import { listTags, mark } from '@/server/entries/marks';

const Tag = z
  .string()
  .trim()
  .min(1)
  .max(40)
  .regex(/^[^\s":]+$/, 'a tag is one word without quotes and colons');
const Change = z.object({
  paths: z.array(z.string().min(1).max(2000)).min(1).max(10_000),
  add: z.array(Tag).max(20).optional(),
  remove: z.array(z.string().max(40)).max(20).optional(),
  note: z.string().max(10_000).optional(),
  alias: z.string().trim().max(200).optional(),
});

export const GET = route(GameParams, ({ params }) => listTags(params.game));
export const POST = route(GameParams, async ({ params, body }) => {
  const { paths, add, remove, note, alias } = await body(Change);
  await mark(params.game, paths, {
    ...(add && { add }),
    ...(remove && { remove }),
    ...(note !== undefined && { note }),
    ...(alias !== undefined && { alias }),
  });
});
