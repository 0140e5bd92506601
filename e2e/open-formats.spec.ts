import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { expect, openEntry, test } from './fixtures';

test('archives of an unknown game in open formats are opened, changed, installed and restored', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'unknown game');
  fs.mkdirSync(path.join(folder, 'data'), { recursive: true });
  fs.mkdirSync(path.join(scratch, 'text'));
  fs.writeFileSync(path.join(scratch, 'text/greeting.txt'), 'Hello from the marsh.\n'.repeat(30));
  fs.writeFileSync(path.join(scratch, 'text/other.txt'), 'Something else.\n');
  const run = (command: string, ...args: string[]): string =>
    execFileSync(command, args, { cwd: scratch, encoding: 'utf8' });
  run('zip', '-qr', path.join(folder, 'data/extras.zip'), 'text');
  run('tar', '-cf', path.join(folder, 'data/more.tar'), 'text/other.txt');
  // A sound by itself is no archive, though a script knows its chunks.
  run('ffmpeg', '-v', 'error', '-f', 'lavfi', '-i', 'sine=d=0.1', path.join(folder, 'data/loose.wav'));
  const before = fs.readFileSync(path.join(folder, 'data/extras.zip'));

  const game = await server.addGame(folder, `Unknown ${process.pid}`);
  await page.goto(`/games/${game.id}/locks`);
  await expect(page.getByRole('cell', { name: 'data/extras.zip' })).toBeVisible();
  await expect(page.getByRole('cell', { name: 'data/more.tar' })).toBeVisible();
  await expect(page.getByText('loose.wav')).toHaveCount(0);

  await server.api.post(`/api/games/${game.id}/mods`, { data: { title: 'Greeting' } });
  await openEntry(page, game.id, 'greeting.txt');
  await expect(
    page.getByLabel('Text', { exact: true }).getByText('Hello from the marsh.').first(),
  ).toBeVisible();
  await page.getByLabel('File to put in its place').setInputFiles({
    name: 'greeting.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from('Good evening.\n'),
  });
  await expect(page.getByText(/greeting.txt replaced/)).toBeVisible();
  await page.goto(`/games/${game.id}/build`);
  await page.getByRole('button', { name: /^Build/ }).click();
  await expect(page.getByText('the proof holds')).toBeVisible();
  await page.getByRole('button', { name: 'Install', exact: true }).click();
  await expect
    .poll(() => run('unzip', '-p', path.join(folder, 'data/extras.zip'), 'text/greeting.txt'))
    .toBe('Good evening.\n');
  expect(run('unzip', '-tq', path.join(folder, 'data/extras.zip'))).toContain('No errors');

  await page.goto(`/games/${game.id}/installed`);
  await page.getByRole('button', { name: 'Restore the originals' }).click();
  await expect.poll(() => fs.readFileSync(path.join(folder, 'data/extras.zip')).equals(before)).toBe(true);
  await server.api.delete(`/api/games/${game.id}`);
});
