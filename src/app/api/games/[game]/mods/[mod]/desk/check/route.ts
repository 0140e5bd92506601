import { z } from 'zod';
import { MOST_TEXT_LENGTH } from '@/server/desk/edit-lines';
import { findingsFor } from '@/server/desk/desk-view';
import { AskedLine, AskedTongues, deskOf } from '@/app/api/desk-asked';
import { ModParams, route } from '@/app/api/route-kit';

const Body = AskedLine.extend({ ...AskedTongues.shape, text: z.string().max(MOST_TEXT_LENGTH) });

/** What would be found in a text of a line; nothing is kept. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { text, ...asked } = await body(Body, { mayHoldNul: true });
  return findingsFor(await deskOf(params, asked), asked, text);
});
