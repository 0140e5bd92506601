import { z } from 'zod';
import { route } from '@/app/api/route-kit';
import { checkScriptText } from '@/server/own-scripts';

const Text = z.object({ text: z.string().max(1 << 20) });

export const POST = route(z.object({}), async ({ body }) => checkScriptText((await body(Text)).text));
