import { deskLine } from '@/server/desk/desk-view';
import { AskedLine, AskedTongues, deskOf } from '@/app/api/desk-asked';
import { ModParams, route } from '@/app/api/route-kit';

const Asked = AskedTongues.extend(AskedLine.shape);

export const GET = route(ModParams, async ({ params, query }) => {
  const asked = query(Asked);
  return deskLine(await deskOf(params, asked), asked);
});
