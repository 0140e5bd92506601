import { z } from 'zod';
import { GameParams, route } from '@/app/api/route-kit';
import { entryHeads } from '@/server/looking/heads';

/** As many as a list asks for at a time. */
const MOST = 60;

const Query = z.object({
  /** `archive:number`, with commas between. */
  of: z
    .string()
    .max(2000)
    .regex(/^\d{1,9}:\d{1,10}(,\d{1,9}:\d{1,10})*$/)
    .transform((text) =>
      text.split(',').map((ref) => {
        const [archiveId, index] = ref.split(':').map(Number);
        return { archiveId: archiveId!, index: index! };
      }),
    )
    .refine((refs) => refs.length <= MOST, `at most ${MOST} entries at a time`),
});

/** What the heads of some entries tell, for the rows that are in sight. */
export const GET = route(GameParams, ({ params, query }) => entryHeads(params.game, query(Query).of));
