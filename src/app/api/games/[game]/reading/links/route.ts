import { z } from 'zod';
import { GameParams, route } from '@/app/api/route-kit';
import { sayLink } from '@/server/reading/reading';
import { writeMeaning } from '@/server/reading/write-meaning';

const Name = z.string().max(4000);
const Body = z.object({
  table: Name,
  field: Name,
  /** The table whose rows it means; null for none. */
  to: Name.nullable().default(null),
  by: Name.default(''),
  /** What was said is forgotten, and what is found counts again. */
  isForgotten: z.boolean().default(false),
  /** What is known of it is written into the script that reads its table. */
  isWritten: z.boolean().default(false),
});

/** Says what a field means. */
export const POST = route(GameParams, async ({ params, body }) => {
  const { isForgotten, isWritten, ...link } = await body(Body);
  if (isWritten) return writeMeaning(params.game, link);
  await sayLink(params.game, link, !isForgotten);
  return null;
});
