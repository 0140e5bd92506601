import { openDesk } from '@/server/desk/desk';
import { deskOverview, usualTongues } from '@/server/desk/desk-view';
import { AskedTongues } from '@/app/api/desk-asked';
import { ModParams, route } from '@/app/api/route-kit';

/** How far all is, in the languages that are asked for. */
export const GET = route(ModParams, async ({ params: { game, mod }, query }) => {
  const { source, target, others } = query(AskedTongues);
  const asked = { source, target, others: others?.split(',').filter((one) => one !== '') };
  const { tongues, chosen } = await usualTongues(game, mod, asked);
  return deskOverview(await openDesk(game, mod, chosen), tongues);
});
