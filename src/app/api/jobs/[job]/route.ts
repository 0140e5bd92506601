import { z } from 'zod';
import { cancelJob, findJob } from '@/server/jobs';
import { route } from '@/app/api/route-kit';

const JobParams = z.object({ job: z.uuid() });

export const GET = route(JobParams, ({ params }) => findJob(params.job));
export const DELETE = route(JobParams, ({ params }) => cancelJob(params.job));
