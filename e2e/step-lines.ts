import type { Locator, Page } from '@playwright/test';
import { expect } from './fixtures';

/** A step comes behind another and goes again; those that are gone on at are where they were, and each is undone. */
export async function addAndTakeOutSteps(page: Page, inWords: Locator): Promise<void> {
  const lines = inWords.getByRole('listitem');
  const count = await lines.count();
  await inWords.getByRole('button', { name: 'Add a step behind the one at 0' }).click();
  await inWords.getByLabel('What it does').click();
  await page.getByRole('option', { name: 'gives', exact: true }).click();
  await inWords.getByLabel('thing', { exact: true }).fill('99999');
  await inWords.getByRole('button', { name: 'Add it', exact: true }).click();
  await expect(inWords.getByText(/thing from 0 to 65535/)).toBeVisible();
  await inWords.getByLabel('thing', { exact: true }).fill('800');
  await inWords.getByRole('button', { name: 'Add it', exact: true }).click();
  await expect(lines).toHaveCount(count + 1);
  await expect(lines.nth(1)).toContainText(/^5Odd Marren /);
  await expect(inWords).toContainText('is kept, on at 25.');
  await inWords.getByRole('button', { name: 'Take the step at 25 out' }).click();
  await inWords.getByRole('button', { name: 'Take it out', exact: true }).click();
  await expect(inWords.getByText('1 step goes on at it')).toBeVisible();
  await inWords.getByRole('button', { name: 'Leave it' }).click();
  await inWords.getByRole('button', { name: 'Take the step at 5 out' }).click();
  await inWords.getByRole('button', { name: 'Take it out', exact: true }).click();
  await expect(lines).toHaveCount(count);
  await expect(inWords).toContainText('is kept, on at 20.');
  await page.getByRole('button', { name: 'Undo a step' }).click();
  await expect(lines).toHaveCount(count + 1);
  await page.getByRole('button', { name: 'Undo a step' }).click();
  await expect(lines).toHaveCount(count);
}
