import { z } from 'zod';
import { ModParams, route } from '@/app/api/route-kit';
import { findHeld, putOnDesk } from '@/server/desk/held-texts';

const Query = z.object({ search: z.string().max(400).default('') });
const Body = z.object({
  places: z
    .array(
      z.object({
        archive: z.string().max(4000),
        path: z.string().max(4000),
        offset: z.number().int().nonnegative(),
      }),
    )
    .max(5000),
  isOn: z.boolean(),
});

/** Texts that the programs of a game keep. */
export const GET = route(ModParams, ({ params, query }) =>
  findHeld(params.game, params.mod, query(Query).search),
);

/** Puts some of them on the desk, or takes them off. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { places, isOn } = await body(Body);
  await putOnDesk(params.game, params.mod, places, isOn);
});
