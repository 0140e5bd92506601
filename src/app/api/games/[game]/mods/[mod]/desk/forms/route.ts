import { addForms } from '@/server/desk/further-forms';
import { AskedLine, AskedTongues, By, deskOf } from '@/app/api/desk-asked';
import { ModParams, route } from '@/app/api/route-kit';

const Body = AskedTongues.extend({ ...AskedLine.shape, by: By });

/** Gives a text the forms of counts that the language has and its table lacks. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { place, key, nth, by, ...asked } = await body(Body);
  return addForms(await deskOf(params, asked), { place, key, nth }, by);
});
