import { Recipe } from '@/core/recipe';
import type { JobContext } from '../running/job-context';
import type { JobInput } from '../running/jobs';
import { AS_THEY_ARE, planEntries, planRun, type Ways } from './plan';
import { recipeRow } from './recipes';
import { runPlan, type RunResult } from './run';
import { readLog } from './run-log';

/** Paths of what failed in a run. */
const failedOf = (jobId: string | undefined): ReadonlySet<string> | undefined =>
  jobId === undefined
    ? undefined
    : new Set(readLog(jobId).flatMap(({ state, path }) => (state === 'failed' ? [path] : [])));

/** The job: the recipe as it is now. Run again after a stop it goes on, since what was written is known. */
export async function runKeptRecipe(
  { gameId, recipeId, retryOf }: JobInput<'run-recipe'>,
  job: JobContext,
): Promise<RunResult> {
  const recipe = Recipe.parse((await recipeRow(gameId, recipeId)).recipe);
  const plan = await planRun(gameId, recipe);
  return runPlan({ gameId, by: `${gameId}:${recipeId}`, ways: recipe, plan, only: failedOf(retryOf) }, job);
}

/** The job: entries that were picked one by one. */
export async function extractPicked(
  { gameId, entries, folder, convert, retryOf }: JobInput<'extract'>,
  job: JobContext,
): Promise<RunResult> {
  const ways: Ways = { ...AS_THEY_ARE, folder, convert };
  const plan = await planEntries(gameId, entries, ways);
  return runPlan({ gameId, by: `${gameId}:0`, ways, plan, only: failedOf(retryOf) }, job);
}
