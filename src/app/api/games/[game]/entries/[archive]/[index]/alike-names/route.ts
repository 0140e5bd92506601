import { FolderEntryParams, route } from '@/app/api/route-kit';
import { alikeNames } from '@/server/looking/alike-names';

/** Models that are called nearly as this one is. */
export const GET = route(FolderEntryParams, ({ params }) =>
  alikeNames(params.game, params.archive, params.index),
);
