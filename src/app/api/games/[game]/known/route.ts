import { z } from 'zod';
import { MEASURED_KINDS } from '@/server/entries/measured';
import { measuring } from '@/server/looking/measuring';
import { GameParams, route } from '@/app/api/route-kit';

const Query = z.object({
  kinds: z
    .string()
    .transform((text) => text.split(','))
    .pipe(z.array(z.enum(MEASURED_KINDS)).max(MEASURED_KINDS.length)),
});

/** How much is known of the entries of some kinds that has to be measured; what is not is measured from then on. */
export const GET = route(GameParams, ({ params, query }) => measuring(params.game, query(Query).kinds));
