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
  test.setTimeout(120_000);
  await server.unlock(lanternfen);
  const answer = await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'New takes' } });
  const { id: modId } = (await answer.json()) as { id: number };
  const marked = await server.api.post(`/api/games/${lanternfen.id}/marks`, {
    data: { paths: ['0417/012.adpcm'], alias: 'The last word' },
  });
  expect(marked.status(), await marked.text()).toBe(200);
  const files = ['001.mp3', '002.mp3', '007.mp3', 'The last word.mp3', 'nobody.mp3'].map((name, i) => {
    const file = path.join(scratch, name);
    const source = `sine=frequency=${300 + 40 * i}:duration=0.8:sample_rate=44100`;
    execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', source, file]);
    return { name, mimeType: 'audio/mpeg', buffer: fs.readFileSync(file) };
  });
  await page.goto(`/games/${lanternfen.id}/changes`);
  await page.getByLabel('Files to bring back').setInputFiles(files);
  await expect(page.getByText('4 files brought back, 4 not fitting yet.')).toBeVisible();
  await expect(page.getByText(/The last word\.mp3 is what 012\.adpcm is called/)).toBeVisible();
  await expect(page.getByText(/^nobody\.mp3: No entry/)).toBeVisible();
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
