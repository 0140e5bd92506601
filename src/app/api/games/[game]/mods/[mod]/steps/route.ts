import { z } from 'zod';
import { Index, ModParams, route } from '@/app/api/route-kit';
import { editStep } from '@/server/reading/edit-step';

const MOST_NUMBERS = 64;
const Numbers = z.array(z.string().max(20)).max(MOST_NUMBERS);
const StepBody = z.object({
  table: z.string().max(4000),
  row: Index,
  field: z.string().max(4000),
  at: Index,
  was: Numbers,
  values: Numbers,
  /** Written although something is wrong. */
  isDespite: z.boolean().default(false),
});

/** Gives the numbers of a step of a scene other values, as a change of the mod. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { isDespite, ...asked } = await body(StepBody);
  return editStep(params.game, params.mod, asked, isDespite);
});
