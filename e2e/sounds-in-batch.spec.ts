import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { expect, test } from './fixtures';

/** Many files for many takes: each finds its own, and one press converts what does not fit. */
test('a batch of MP3 files goes onto the takes of a book by number and by label, is mended by one press, and undone', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const answer = await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'New takes' } });
  const { id: modId } = (await answer.json()) as { id: number };
  const marked = await server.api.post(`/api/games/${lanternfen.id}/marks`, {
    data: { paths: ['0417/012.adpcm'], alias: 'The last word' },
  });
  expect(marked.status(), await marked.text()).toBe(200);
  const names = ['001.mp3', 'Widow 2.mp3', '007.mp3', 'The last word.mp3', 'nobody.mp3', 'Widow 3.mp3'];
  const files = names.map((name, i) => {
    const file = path.join(scratch, name);
    const source = `sine=frequency=${300 + 40 * i}:duration=0.8:sample_rate=44100`;
    execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', source, file]);
    return { name, mimeType: 'audio/mpeg', buffer: fs.readFileSync(file) };
  });
  await page.goto(`/games/${lanternfen.id}/contents?kind=sound&search=in:songs/0417.songbook`);
  await expect(page.locator('[data-entry]')).toHaveCount(12);
  await page.getByRole('button', { name: 'Files for these…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Files for what is listed' });
  await dialog.getByLabel('Files for what is listed', { exact: true }).last().setInputFiles(files);

  await test.step('before anything is changed it is shown which goes where, and how that was found', async () => {
    await expect(dialog.getByRole('status')).toHaveText('5 files have a place, 1 has none.');
    const row = (name: string) => dialog.getByRole('listitem', { name, exact: true });
    await expect(row('001.mp3')).toContainText('0417/001.adpcm');
    await expect(row('001.mp3')).toContainText('by its name');
    await expect(row('Widow 2.mp3')).toContainText('by the number in its name');
    await expect(row('The last word.mp3')).toContainText('0417/012.adpcm, The last word');
    await expect(row('The last word.mp3')).toContainText('by what it is called');
    await expect(row('nobody.mp3')).toContainText('no entry of the list');
    // Two files for one place wait until somebody says which.
    await row('Widow 3.mp3').getByRole('combobox').click();
    await page.getByRole('option', { name: 'left out' }).click();
    await expect(dialog.getByRole('status')).toHaveText('4 files have a place, 2 have none.');
  });
  await dialog.getByRole('button', { name: 'Put 4 files in place' }).click();
  await expect(
    dialog.getByText('4 files in their places, 4 not fitting yet: Changes has the mend.'),
  ).toBeVisible();
  await dialog.getByRole('link', { name: 'To Changes' }).click();
  await page.getByRole('button', { name: 'Mend all 4' }).click();
  await expect(page.getByText('4 changes mended.')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Mend all/ })).toHaveCount(0);
  await expect(page.getByRole('link', { name: 'To the build' })).toBeEnabled();
  const changes = (await (
    await server.api.get(`/api/games/${lanternfen.id}/mods/${modId}/changes`)
  ).json()) as { path: string; fit: string; mends: string[] }[];
  expect(changes.map(({ path: at }) => at)).toEqual([
    '0417/001.adpcm',
    '0417/002.adpcm',
    '0417/007.opus',
    '0417/012.adpcm',
  ]);
  expect(changes.map(({ fit }) => fit)).not.toContain('does not fit');
  // The last mend is undone by itself, the others stay.
  await page.getByRole('button', { name: /^Undo a step/ }).click();
  await expect(page.getByText(/1 not fitting yet/)).toBeVisible();
});
