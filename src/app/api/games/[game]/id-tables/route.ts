import { z } from 'zod';
import { GameParams, Id, Index, route } from '@/app/api/route-kit';
import { addIdTable, addIdTableFromEntry, listIdTables } from '@/server/entries/id-tables';

const Given = z.union([
  z.object({ title: z.string().trim().min(1).max(120), text: z.string().min(1).max(30_000_000) }),
  z.object({ archiveId: Id, index: Index }),
]);

export const GET = route(GameParams, ({ params }) => listIdTables(params.game));
export const POST = route(GameParams, async ({ params, body }) => {
  const given = await body(Given);
  return 'text' in given ? addIdTable(params.game, given) : addIdTableFromEntry(params.game, given);
});
