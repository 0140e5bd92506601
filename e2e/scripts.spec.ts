import fs from 'node:fs';
import path from 'node:path';
import { expect, test } from './fixtures';

/** The last script of the tutorial, under a title of this run. */
function tutorialScript(title: string): string {
  const page = fs.readFileSync('docs/first-script.md', 'utf8');
  const [, text = ''] = /# step: proved\n([\s\S]*?)```/.exec(page) ?? [];
  return text.replace('title: Lamps', `title: ${title}`);
}

test('a script is written, mended, saved in versions, exported and imported, and opens an unknown game', async ({
  page,
  server,
  scratch,
}) => {
  const title = `Lamps ${process.pid}`;
  const text = tutorialScript(title);
  const folder = path.join(scratch, 'lamp game');
  fs.mkdirSync(folder);
  fs.copyFileSync('docs/first-script/lamps.wick', path.join(folder, 'lamps.wick'));

  await page.goto('/');
  await page.getByRole('link', { name: 'Format scripts' }).click();
  await page.getByRole('button', { name: 'New script' }).click();
  const editor = page.getByRole('textbox', { name: 'Text of the script' });
  const verdict = page.getByRole('status', { name: 'What the script says' });
  await expect(verdict).toContainText('New format: 2 records');

  // A mistake is told with its line, and nothing wrong can be saved.
  await editor.fill(text.replace('version: { type: u16', 'version: { type: u17'));
  await expect(verdict).toContainText('line 8, column 22');
  await expect(verdict).toContainText('u17');
  await expect(page.getByRole('button', { name: 'Save', exact: true })).toBeDisabled();

  // What is not saved survives leaving the page.
  await page.goto('/');
  await page.goto('/scripts?script=new');
  await expect(verdict).toContainText('u17');
  await editor.fill(text);
  await expect(verdict).toContainText(`${title}: 2 records`);
  await page.keyboard.press('Control+s');
  await expect(page.getByText(/Saved as version 1/)).toBeVisible();
  await expect(page.getByRole('heading', { name: title })).toBeVisible();

  await editor.fill(`${text}# A second version.\n`);
  await expect(verdict).toContainText('not saved');
  await expect(verdict).toContainText('2 records');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText(/Saved as version 2/)).toBeVisible();
  await page.getByLabel('Version', { exact: true }).click();
  await page.getByRole('option', { name: /^1,/ }).click();
  await expect(verdict).toContainText('older version');
  await expect(editor).not.toContainText('A second version');

  const saved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export' }).click();
  expect(fs.readFileSync(await (await saved).path(), 'utf8')).toBe(text);

  // A scan opens with it what nothing else knows.
  const game = await server.addGame(folder, title);
  await page.goto(`/games/${game.id}/contents`);
  await expect(page.getByText('skiff.txt').first()).toBeVisible();
  await page.goto(`/games/${game.id}/locks`);
  await expect(page.getByText(title).first()).toBeVisible();

  // Removed, it is gone from the list; the exported file brings it back.
  await page.goto('/scripts');
  await page.getByRole('navigation', { name: 'Scripts' }).getByText(title).click();
  await page.getByRole('button', { name: 'Remove' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Remove' }).click();
  await expect(page.getByRole('navigation', { name: 'Scripts' }).getByText(title)).toHaveCount(0);
  await page.getByLabel('Script file').setInputFiles({
    name: 'lamps.yaml',
    mimeType: 'application/yaml',
    buffer: Buffer.from(text),
  });
  await expect(page.getByRole('heading', { name: 'New script' })).toBeVisible();
  await expect(verdict).toContainText(title);
  await page.getByRole('button', { name: 'Discard' }).click();
  await server.api.delete(`/api/games/${game.id}`);
});

test('a shipped script is read only, and a copy of it can be changed', async ({ page }) => {
  await page.goto('/scripts?script=zip');
  const editor = page.getByRole('textbox', { name: 'Text of the script' });
  await expect(editor).toContainText('title: ZIP');
  await expect(editor).toHaveAttribute('aria-readonly', 'true');
  await page.getByRole('button', { name: 'Copy to mine' }).click();
  await expect(editor).not.toHaveAttribute('aria-readonly', 'true');
  await expect(page.getByText('not saved').first()).toBeVisible();
  await page.getByRole('button', { name: 'Discard' }).click();
  await page.goto('/scripts?script=nothing-of-this-name');
  await expect(page.getByRole('alert').filter({ hasText: 'script' })).toBeVisible();
});

test('the server refuses a wrong script and ids that lead elsewhere', async ({ server }) => {
  const wrong = await server.api.post('/api/scripts', { data: { text: 'format script: 1\ntitle: X\n' } });
  expect(wrong.status()).toBe(422);
  expect(((await wrong.json()) as { error: string }).error).toMatch(/recognise|records/);
  for (const id of ['..%2F..%2Fetc', 'own-..', 'own-%2e%2e', 'zip']) {
    const answer = await server.api.post(`/api/scripts/${id}`, { data: { text: tutorialScript('Bad') } });
    expect(answer.status()).toBe(404);
    expect((await server.api.delete(`/api/scripts/${id}`)).status()).toBe(404);
  }
});
