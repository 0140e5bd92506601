import { create } from 'content-disposition';
import { z } from 'zod';
import { GameParams, Id, route } from '@/app/api/route-kit';
import { TABLE_FORMS, tableFile } from '@/server/reading/table-file';

const Query = z.object({ table: z.string().max(4000), form: z.enum(TABLE_FORMS), mod: Id.optional() });

/** A table as a file. */
export const GET = route(GameParams, async ({ params, query }) => {
  const { table, form, mod } = query(Query);
  const { bytes, name, type } = await tableFile(params.game, table, form, mod);
  return new Response(Buffer.from(bytes), {
    headers: { 'content-type': type, 'content-disposition': create(name), 'cache-control': 'no-store' },
  });
});
