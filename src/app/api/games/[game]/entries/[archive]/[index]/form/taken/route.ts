import { toldModelTake } from '@/server/looking/model-takes';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';
import { TakeQuery } from '../query';

/** What would be taken out of a model. */
export const GET = route(EntryParams, async ({ params, query }) => {
  const { settings, clips } = query(TakeQuery);
  return toldModelTake(params.game, await openedBy(params), settings, clips);
});
