import { z } from 'zod';
import { chooseOriginal, knownOf, noteKnown } from '@/server/installing/originals';
import { GameParams, route } from '@/app/api/route-kit';

const Known = z.object({
  terms: z.string().max(20_000).optional(),
  listing: z.string().max(8_000_000).optional(),
  looseFolder: z.string().max(1000).optional(),
});
const Choice = z.object({ path: z.string().min(1).max(4096), sha256: z.string().regex(/^[0-9a-f]{64}$/) });

/** The terms and the list of sums that the user noted for a game. */
export const GET = route(GameParams, ({ params }) => knownOf(params.game));
export const PATCH = route(GameParams, async ({ params, body }) => noteKnown(params.game, await body(Known)));

/** Says what counts as the original of a file. */
export const POST = route(GameParams, async ({ params, body }) => {
  const { path, sha256 } = await body(Choice);
  await chooseOriginal(params.game, path, sha256);
});
