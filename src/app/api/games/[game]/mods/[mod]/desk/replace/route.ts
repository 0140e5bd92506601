import { z } from 'zod';
import { idOf } from '@/media/text/core/desk';
import { lookAtReplacing, replaceLines } from '@/server/desk/many-lines';
import { AskedLine, AskedLines, By, deskOf, queryOf } from '@/app/api/desk-asked';
import { ModParams, route } from '@/app/api/route-kit';

const Body = z.object({
  query: AskedLines,
  find: z.string().min(1).max(1000),
  replacement: z.string().max(1000),
  matchesCase: z.boolean().default(false),
  isWhole: z.boolean().default(false),
  /** Lines that are left as they are. */
  without: z.array(AskedLine).max(10_000).default([]),
  isLook: z.boolean(),
  by: By,
});

/** What replacing would do, or does. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { query, find, replacement, matchesCase, isWhole, without, isLook, by } = await body(Body);
  const desk = await deskOf(params, query);
  const how = { find, by: replacement, matchesCase, isWhole };
  return isLook
    ? lookAtReplacing(desk, queryOf(query), how)
    : replaceLines(desk, queryOf(query), how, new Set(without.map(idOf)), by);
});
