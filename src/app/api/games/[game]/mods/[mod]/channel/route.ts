import { z } from 'zod';
import { CHANNEL_NAMES } from '@/media/picture/core/texture';
import { putChannel } from '@/server/mods/channel';
import { openedEntry } from '@/server/opening/opened';
import { receiveFile } from '@/app/api/receive';
import { Id, Index, ModParams, route } from '@/app/api/route-kit';

const Slot = z.object({
  archive: Id,
  index: Index,
  channel: z.enum(CHANNEL_NAMES),
  inverted: z.stringbool().default(false),
  name: z.string().min(1).max(200),
});

/** A grey map for one channel of an entry. The body is the file itself, streamed. */
export const PUT = route(ModParams, async ({ params, query, request }) => {
  const { archive, index, channel, inverted, name } = query(Slot);
  const { sha256 } = await receiveFile(request, name);
  const opened = await openedEntry(params.game, archive, index);
  return { fit: await putChannel(opened, params.mod, channel, inverted, { name, blob: sha256 }) };
});
