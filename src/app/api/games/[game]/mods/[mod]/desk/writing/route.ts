import { z } from 'zod';
import { modRow } from '@/server/mods/mods';
import { sayWriting } from '@/server/desk/writers';
import { AskedLine, By } from '@/app/api/desk-asked';
import { ModParams, route } from '@/app/api/route-kit';

const Body = AskedLine.extend({
  target: z.string().max(40),
  who: z.string().min(1).max(60),
  by: By,
  isOn: z.boolean(),
});

/** Says that somebody began to write in a line, or left it, so that others see it. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { target, who, by, isOn, ...line } = await body(Body);
  await modRow(params.game, params.mod);
  sayWriting(params.mod, target, line, { by, who }, isOn);
});
