import { FolderEntryParams, route } from '@/app/api/route-kit';
import { entryLinks } from '@/server/entries/links';

export const GET = route(FolderEntryParams, ({ params }) =>
  entryLinks(params.game, params.archive, params.index),
);
