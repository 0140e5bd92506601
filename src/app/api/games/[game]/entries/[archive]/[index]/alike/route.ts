import { FolderEntryParams, route } from '@/app/api/route-kit';
import { alikeSounds } from '@/server/looking/sound-alikes';

/** Sounds that sound like this one. */
export const GET = route(FolderEntryParams, ({ params }) =>
  alikeSounds(params.game, params.archive, params.index),
);
