import { z } from 'zod';
import { GameParams, route } from '@/app/api/route-kit';
import { sayLink } from '@/server/reading/reading';

const Name = z.string().max(4000);
const Body = z.object({
  table: Name,
  field: Name,
  /** The table whose rows it means; null for none. */
  to: Name.nullable().default(null),
  by: Name.default(''),
  /** What was said is forgotten, and what is found counts again. */
  isForgotten: z.boolean().default(false),
});

/** Says what a field means. */
export const POST = route(GameParams, async ({ params, body }) => {
  const { isForgotten, ...link } = await body(Body);
  await sayLink(params.game, link, !isForgotten);
});
