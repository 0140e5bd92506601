import { z } from 'zod';
import { listWorkers } from '@/server/running/workers/registry';
import { route } from '@/app/api/route-kit';

export const GET = route(z.object({}), () => listWorkers());
