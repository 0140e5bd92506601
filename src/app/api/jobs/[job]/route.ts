import { z } from 'zod';
import { cancelJob, findJob, pauseJob, resumeJob } from '@/server/running/jobs';
import { runAgain } from '@/server/recipes/recipes';
import { route } from '@/app/api/route-kit';

const JobParams = z.object({ job: z.uuid() });

export const GET = route(JobParams, ({ params }) => findJob(params.job));
export const PATCH = route(JobParams, async ({ params, body }) => {
  const { paused } = await body(z.object({ paused: z.boolean() }));
  await (paused ? pauseJob(params.job) : resumeJob(params.job));
});
/** Runs an ended extraction once more. */
export const POST = route(JobParams, async ({ params, body }) => {
  const { failed } = await body(z.object({ failed: z.boolean().default(false) }));
  return runAgain(params.job, failed);
});
export const DELETE = route(JobParams, ({ params }) => cancelJob(params.job));
