import type { Page } from '@playwright/test';
import { expect, folderHash } from './fixtures';

/** From the changes to a proved build; `said` stands in its report. */
export async function buildMod(page: Page, said: readonly string[]): Promise<void> {
  await page.getByRole('link', { name: 'To the build' }).click();
  await page.getByRole('button', { name: 'Build', exact: true }).click();
  const report = page.getByRole('region', { name: 'Build report' });
  await expect(report.getByText('the proof holds')).toBeVisible();
  for (const words of said) await expect(report.getByText(words).first()).toBeVisible();
}

/** From a build into the game, over so many kept originals. */
export async function installMod(page: Page, originals: number): Promise<void> {
  await page.getByRole('button', { name: 'Install', exact: true }).click();
  await page.getByRole('link', { name: /Installed/ }).click();
  await expect(page.getByText('original kept')).toHaveCount(originals);
}

/** The stand-in loads the folder and shows pictures of these widths, by what they are called. */
export async function tryMod(page: Page, shown: Readonly<Record<string, number>>): Promise<void> {
  await page.getByRole('link', { name: 'To the trial' }).click();
  await page.getByRole('button', { name: 'Run the trial' }).first().click();
  await expect(page.getByRole('heading', { name: 'The game loads' })).toBeVisible();
  const scene = page.frameLocator('iframe');
  for (const [part, width] of Object.entries(shown))
    await expect
      .poll(() => scene.getByAltText(part).evaluate((image: HTMLImageElement) => image.naturalWidth))
      .toBe(width);
}

/** The folder is byte for byte what it was. */
export async function restoreGame(page: Page, folder: string, untouched: string): Promise<void> {
  await page.getByRole('link', { name: /Installed/ }).click();
  await page.getByRole('button', { name: 'Restore the originals' }).click();
  await expect(page.getByRole('heading', { name: 'The folder holds its originals' })).toBeVisible();
  expect(folderHash(folder)).toBe(untouched);
}
