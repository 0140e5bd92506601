import { z } from 'zod';
import { cancelJob, findJob, pauseJob, resumeJob } from '@/server/jobs';
import { runAgain } from '@/server/recipes/recipes';
import { route } from '@/app/api/route-kit';

const JobParams = z.object({ job: z.uuid() });

export const GET = route(JobParams, ({ params }) => findJob(params.job));
export const PATCH = route(JobParams, async ({ params, body }) => {
  const { paused } = await body(z.object({ paused: z.boolean() }));
  await (paused ? pauseJob(params.job) : resumeJob(params.job));
});
/** Runs the recipe of an ended job once more. */
export const POST = route(JobParams, ({ params }) => runAgain(params.job));
export const DELETE = route(JobParams, ({ params }) => cancelJob(params.job));
