import { z } from 'zod';
import { pingDatabase } from '@/db/facts';
import { watchWorkFolders } from '@/server/mods/work-folder';
import { warmLookThread } from '@/server/looking/look-threads';
import { route } from '@/app/api/route-kit';

/** Answers once the application and its database do; bin/start asks it, so what takes long to begin begins here. */
export const GET = route(z.object({}), async () => {
  await pingDatabase();
  warmLookThread();
  watchWorkFolders();
  return { ready: true, instance: process.env.ZERO_LATCH_INSTANCE ?? null };
});
