import { modelDownload } from '@/server/looking/model-takes';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';
import { TakeQuery } from '../query';

/** A model as a file to keep. */
export const GET = route(EntryParams, async ({ params, query }) => {
  const { settings, clips, worn } = query(TakeQuery);
  return modelDownload(params.game, await openedBy(params), { settings, clips, worn });
});
