import { z } from 'zod';
import { Id, route } from '@/app/api/route-kit';
import { keepChecked } from '@/server/opening/check-script';
import { dropScript, scriptDetail } from '@/server/opening/scripts';

const Params = z.object({ script: z.string().min(1).max(120) });
const Query = z.object({ version: Id.optional() });
const Text = z.object({ text: z.string().max(1 << 20) });

export const GET = route(Params, ({ params, query }) =>
  Promise.resolve(scriptDetail(params.script, query(Query).version)),
);
export const POST = route(Params, async ({ params, body }) =>
  keepChecked((await body(Text)).text, params.script),
);
export const DELETE = route(Params, ({ params }) => Promise.resolve(dropScript(params.script)));
