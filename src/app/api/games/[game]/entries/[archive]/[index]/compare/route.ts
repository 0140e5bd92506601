import { z } from 'zod';
import { FolderEntryParams, Id, Index, route } from '@/app/api/route-kit';
import { compareEntries } from '@/server/looking/compare';

export const GET = route(FolderEntryParams, ({ params, query }) => {
  const { archive, index } = query(z.object({ archive: Id, index: Index }));
  return compareEntries(
    params.game,
    { archiveId: params.archive, index: params.index },
    { archiveId: archive, index },
  );
});
