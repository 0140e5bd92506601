import { z } from 'zod';
import { LINE_ORDERS, LINE_STATES, SHOWN, type LineQuery } from '@/media/text/core/desk';
import { openDesk, type Desk } from '@/server/desk/desk';
import { usualTongues } from '@/server/desk/desk-view';
import type { ModParams } from './route-kit';

const Tongue = z.string().max(40);
export const AskedTongues = z.object({
  source: Tongue.optional(),
  target: Tongue.optional(),
  /** Further languages, with commas between them. */
  others: z.string().max(400).optional(),
});
const Words = {
  shown: z.enum(SHOWN).default('all'),
  text: z.string().max(400).default(''),
  place: z.string().max(1000).default(''),
  speaker: z.string().max(400).default(''),
  order: z.enum(LINE_ORDERS).default('game'),
};
/** A query as it stands in an address. */
export const AskedLines = AskedTongues.extend({ ...Words, backwards: z.enum(['yes', 'no']).default('no') });
export const queryOf = ({
  shown,
  text,
  place,
  speaker,
  order,
  backwards,
}: z.infer<typeof AskedLines>): LineQuery => ({
  ...{ shown, text, place, speaker, order },
  isBackwards: backwards === 'yes',
});
export const AskedLine = z.object({
  place: z.string().max(1000),
  key: z.string().max(4000),
  nth: z.coerce.number().int().nonnegative().default(0),
});
export const State = z.enum(LINE_STATES);
/** What whoever works here is called; nobody has to say. */
export const By = z.string().trim().max(60).default('');

/** The desk that a request is about, in the languages that it asks for or in the usual ones. */
export async function deskOf(
  { game, mod }: z.infer<typeof ModParams>,
  { source, target, others }: z.infer<typeof AskedTongues>,
): Promise<Desk> {
  const asked = { source, target, others: others?.split(',').filter((one) => one !== '') };
  const { chosen } = await usualTongues(game, mod, asked);
  return openDesk(game, mod, chosen);
}
