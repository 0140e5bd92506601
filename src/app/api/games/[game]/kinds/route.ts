import { z } from 'zod';
import { GameParams, route } from '@/app/api/route-kit';
import { endingOf, KINDS } from '@/core/kinds';
import { kindChoices, sayKind } from '@/server/entries/kinds';

const Said = z
  .object({
    scope: z.enum(['path', 'ending']),
    /** A path; of an ending any path that bears it. */
    path: z.string().min(1).max(4096),
    kind: z.enum(KINDS).nullable(),
  })
  .refine(({ scope, path }) => scope === 'path' || endingOf(path) !== '', 'a path that bears an ending');

export const GET = route(GameParams, ({ params }) => kindChoices(params.game));
export const POST = route(GameParams, async ({ params, body }) => ({
  before: await sayKind(params.game, await body(Said)),
}));
