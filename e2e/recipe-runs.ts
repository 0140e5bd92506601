import type { Page } from '@playwright/test';
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

/** Makes a recipe that takes all sounds of a game out as WAV, and runs it. */
export async function runSoundsRecipe(
  page: Page,
  gameId: number,
  { title, target }: { title: string; target: string },
): Promise<void> {
  await page.goto(`/games/${gameId}/recipes`);
  await page.getByRole('button', { name: 'New recipe' }).click();
  const dialog = page.getByRole('dialog', { name: 'New recipe' });
  await dialog.getByLabel('Title').fill(title);
  await dialog.getByLabel('Kind').click();
  await page.getByRole('option', { name: 'Sounds' }).click();
  await dialog.getByLabel('Folder on this machine').fill(target);
  await dialog.getByLabel('Sounds', { exact: true }).click();
  await page.getByRole('option', { name: 'as WAV', exact: true }).click();
  await dialog.getByRole('button', { name: 'Save and run' }).click();
}
