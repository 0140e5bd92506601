import { z } from 'zod';
import { findJobs } from '@/server/running/jobs';
import { Id, route } from '@/app/api/route-kit';

export const GET = route(z.object({}), ({ query }) =>
  findJobs(query(z.object({ game: Id.optional() })).game),
);
