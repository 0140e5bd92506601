import { z } from 'zod';
import { route } from '@/app/api/route-kit';
import { checkBeside } from '@/server/opening/check-script';

const Text = z.object({ text: z.string().max(1 << 20) });

export const POST = route(z.object({}), async ({ body }) => checkBeside((await body(Text)).text));
