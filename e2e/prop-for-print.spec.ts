import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import type { Download, Page } from '@playwright/test';
import { expect, test } from './fixtures';

/** Triangles that another program finds not joined on all sides. */
const looseIn = (stl: string): number =>
  Number(
    /Total disconnected facets\s*:\s*(\d+)/.exec(
      execFileSync('admesh', ['--exact', stl], { encoding: 'utf8' }),
    )![1],
  );

async function kept(download: Promise<Download>, folder: string): Promise<string> {
  const file = await download;
  const to = path.join(folder, file.suggestedFilename());
  await file.saveAs(to);
  return to;
}
const row = (page: Page, name: string) => page.getByRole('row', { name: new RegExp(`^${name} `) });

test('prop-for-print: the finer boathook, sized, mended, cut to the bed with pegs, and taken out for printing and for editing', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);

  await test.step('of two meshes the finer one is told by its triangles', async () => {
    await page.goto(
      `/games/${lanternfen.id}/contents?${new URLSearchParams({ kind: 'model', search: 'boathook' })}`,
    );
    const meshes = page.locator('[data-entry]');
    await expect(meshes).toHaveCount(2);
    await expect(meshes.filter({ hasText: 'boathook_fine.form' })).toContainText('4,255');
    const counts = (await meshes.allInnerTexts()).map((text) => ({
      text,
      triangles: Math.max(
        ...(text.match(/\b\d[\d,]*\b/g) ?? []).map((one) => Number(one.replaceAll(',', ''))),
      ),
    }));
    const finer = counts.reduce((best, one) => (one.triangles > best.triangles ? one : best));
    expect(finer.text).toContain('boathook_fine.form');
    await meshes.filter({ hasText: 'boathook_fine.form' }).click();
    await page.getByRole('link', { name: 'Look at it large' }).click();
    await page.getByRole('link', { name: 'For printing' }).click();
  });

  await test.step('as its maker left it: shells, holes, a loose triangle; mended it is closed', async () => {
    await expect(page.getByText(/1 piece, watertight$/)).toBeVisible();
    await expect(row(page, 'Shells')).toHaveText(/Shells51$/);
    await expect(row(page, 'Holes')).toHaveText(/4 of 63 loose edges0$/);
    await expect(row(page, 'Watertight')).toHaveText(/noyes$/);
    await expect(page.getByText(/Lost: 1 triangle that encloses nothing/)).toBeVisible();
    await expect(page.getByText(/lids on 3 holes/)).toBeVisible();
    await row(page, 'Holes').getByRole('button').click();
    await expect(row(page, 'Holes').getByRole('button')).toHaveAttribute('aria-pressed', 'true');
    await page.getByRole('button', { name: 'As it is' }).click();
    await expect(page.locator('[data-stage]')).toHaveAttribute('data-drawn', 'true');
  });

  await test.step('a mend is refused, and going back undoes that', async () => {
    const closes = page.getByRole('checkbox', { name: 'Close holes' });
    await closes.click();
    await expect(closes).not.toBeChecked();
    await expect(page.getByText(/1 piece, not closed$/)).toBeVisible();
    await expect(page.getByText(/Shells were not joined\. It is not closed/)).toBeVisible();
    await page.goBack();
    await expect(closes).toBeChecked();
    await expect(page.getByText(/1 piece, watertight$/)).toBeVisible();
  });

  await test.step('with all parts left out it says so, and they can be taken in again', async () => {
    const pole = page.getByRole('checkbox', { name: 'boathook_pole' });
    const iron = page.getByRole('checkbox', { name: 'boathook_iron' });
    await pole.click();
    await expect(row(page, 'Shells')).toHaveText(/Shells4/);
    await iron.click();
    await expect(page.getByRole('alert').getByText(/nothing is left of it/)).toBeVisible();
    await pole.click();
    await iron.click();
    await expect(page.getByText(/1 piece, watertight$/)).toBeVisible();
  });

  await test.step('at a size of its own it is too large for the bed, and is cut with pegs', async () => {
    await page.getByLabel('Longest side').fill('600');
    await page.getByLabel('Longest side').press('Enter');
    await expect(page.getByText(/1 piece, watertight, too large for the bed$/)).toBeVisible();
    await page.getByRole('combobox', { name: 'Cuts' }).click();
    await page.getByRole('option', { name: 'Where it is too large for the bed' }).click();
    await page.getByRole('checkbox', { name: 'Pegs between pieces' }).click();
    await expect(page.getByText(/3 pieces, watertight$/)).toBeVisible();
    await expect(page.getByText('2 pegs set')).toBeVisible();
    const pieces = page.getByRole('table', { name: 'Pieces' });
    await expect(pieces.getByRole('row')).toHaveCount(4);
    await expect(pieces.getByText('watertight', { exact: true })).toHaveCount(3);
    await page.getByRole('button', { name: 'On the bed' }).click();
    await expect(page.locator('[data-stage]')).toHaveAttribute('data-drawn', 'true');
    // The address keeps all of it.
    await page.reload();
    await expect(page.getByText(/3 pieces, watertight$/)).toBeVisible();
  });

  await test.step('each piece is closed in the eyes of another program; the bed is remembered', async () => {
    const stl = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Take it as STL' }).click();
    const zip = await kept(stl, scratch);
    expect(path.basename(zip)).toBe('boathook_fine.zip');
    execFileSync('unzip', ['-q', zip, '-d', path.join(scratch, 'pieces')]);
    const names = fs.readdirSync(path.join(scratch, 'pieces'));
    expect(names).toHaveLength(3);
    for (const name of names) expect(looseIn(path.join(scratch, 'pieces', name))).toBe(0);
    const three = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Take it as 3MF' }).click();
    const said = execFileSync('assimp', ['info', await kept(three, scratch)], { encoding: 'utf8' });
    expect(said).toMatch(/Meshes:\s+3/);
    await page.getByLabel('Bed x').fill('180');
    await page.getByLabel('Bed x').press('Enter');
    await expect(page).toHaveURL(/180/);
    const entry = new URL(page.url()).searchParams.get('entry')!;
    await page.goto(`/games/${lanternfen.id}/model/print?${new URLSearchParams({ entry })}`);
    await expect(page.getByLabel('Bed x')).toHaveValue('180');
  });

  await test.step('and for editing, without the iron', async () => {
    await page.getByRole('link', { name: 'Back to the model' }).click();
    await page.getByRole('button', { name: 'Take it out' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByRole('checkbox', { name: 'boathook_iron' }).uncheck();
    await expect(dialog.getByText(/^1 part, /)).toBeVisible();
    const glb = page.waitForEvent('download');
    await dialog.getByRole('link', { name: 'Take it out' }).click();
    const file = await kept(glb, scratch);
    expect(path.basename(file)).toBe('boathook_fine.glb');
    expect(execFileSync('assimp', ['info', file], { encoding: 'utf8' })).toMatch(/Meshes:\s+1/);
  });

  await test.step('what is asked out of shape is refused in words', async () => {
    const entry = new URL(page.url()).searchParams.get('entry')!.replace(':', '/');
    const ask = (query: Record<string, string>) =>
      server.api.get(`/api/games/${lanternfen.id}/entries/${entry}/print?${new URLSearchParams(query)}`);
    for (const settings of ['{', '{"size":{"by":"longest","longest":-1}}', '{"bed":{"x":0,"y":1,"z":1}}'])
      expect((await ask({ settings })).status()).toBe(400);
    const none = await ask({ settings: JSON.stringify({ left: ['boathook_pole', 'boathook_iron'] }) });
    expect(none.status()).toBeGreaterThanOrEqual(400);
    expect(((await none.json()) as { error: string }).error).toMatch(/nothing is left/);
  });
});
