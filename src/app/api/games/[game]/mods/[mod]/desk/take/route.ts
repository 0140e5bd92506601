import { create } from 'content-disposition';
import { z } from 'zod';
import { EXCHANGE_FORMS } from '@/media/text/node/exchange';
import { takeLines } from '@/server/desk/exchange';
import { AskedLines, deskOf, queryOf } from '@/app/api/desk-asked';
import { ModParams, route } from '@/app/api/route-kit';

const Asked = AskedLines.extend({ form: z.enum(EXCHANGE_FORMS) });

/** The lines that are asked for, as a file. */
export const GET = route(ModParams, async ({ params, query }) => {
  const asked = query(Asked);
  const { bytes, name, type } = await takeLines(await deskOf(params, asked), asked.form, queryOf(asked));
  return new Response(Buffer.from(bytes), {
    headers: { 'content-type': type, 'content-disposition': create(name), 'cache-control': 'no-store' },
  });
});
