import { FolderEntryParams, route } from '@/app/api/route-kit';
import { takeBeside } from '@/server/looking/take-beside';

/** What belongs to a sound: its line, and the same in other languages. */
export const GET = route(FolderEntryParams, ({ params }) =>
  takeBeside(params.game, params.archive, params.index),
);
