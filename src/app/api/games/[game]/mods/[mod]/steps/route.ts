import { z } from 'zod';
import { Index, ModParams, route } from '@/app/api/route-kit';
import { editStep } from '@/server/reading/edit-step';
import { resizeSteps } from '@/server/reading/resize-steps';

const MOST_NUMBERS = 64;
const Numbers = z.array(z.string().max(20)).max(MOST_NUMBERS);
const Place = z.object({
  table: z.string().max(4000),
  row: Index,
  field: z.string().max(4000),
  at: Index,
  /** Written although something is wrong. */
  isDespite: z.boolean().default(false),
});
const StepBody = z.union([
  Place.extend({ was: Numbers, values: Numbers }),
  /** A step that comes; without `add` the one that begins there goes. */
  Place.extend({
    stamp: z.string().max(100),
    add: z.object({ code: z.number().int().nonnegative().max(0xffffffff), values: Numbers }).optional(),
  }),
]);

/** Gives the numbers of a step of a scene other values, puts a step among others or takes one out, as a change of the mod. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { isDespite, ...asked } = await body(StepBody);
  return 'stamp' in asked
    ? resizeSteps(params.game, params.mod, asked, isDespite)
    : editStep(params.game, params.mod, asked, isDespite);
});
