import { expect, type Server } from './fixtures';

export interface Run {
  detail: string;
  counts: Record<string, number>;
}

/** What the run with this number, from 1, came to; waits for it. */
export async function runOf(server: Server, gameId: number, number = 1): Promise<Run> {
  await expect
    .poll(async () => (await server.jobs(gameId)).filter(({ kind }) => kind === 'run-recipe').length)
    .toBe(number);
  const [job] = (await server.settled(gameId)).filter(({ kind }) => kind === 'run-recipe');
  expect(job!.error).toBeNull();
  expect(job!.state).toBe('done');
  return job!.result as unknown as Run;
}
