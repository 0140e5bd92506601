import { z } from 'zod';
import { route } from '@/app/api/route-kit';
import { keepChecked } from '@/server/opening/check-script';
import { listScripts } from '@/server/opening/scripts';

const NewScript = z.object({ text: z.string().max(1 << 20) });

export const GET = route(z.object({}), () => Promise.resolve(listScripts()));
export const POST = route(z.object({}), async ({ body }) => keepChecked((await body(NewScript)).text));
