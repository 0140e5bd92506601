import { z } from 'zod';
import { models } from '@/db';
import { route } from '@/app/api/route-kit';

/** Answers once the application and its database do. */
export const GET = route(z.object({}), async () => {
  await models().query('SELECT 1');
  return { ready: true };
});
