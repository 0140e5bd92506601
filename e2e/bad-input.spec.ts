import { execFileSync, spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { writeHold } from '../demo/world/hold-writer';
import { expect, folderHash, openEntry, test } from './fixtures';
import { tone } from './waves';

const hold = (folder: string, name: string): string => path.join(folder, 'holds', name);

test('a wrong key says how far it got and leaves the rest alone', async ({ page, lanternfen }) => {
  await page.goto(`/games/${lanternfen.id}/locks`);
  await page.getByRole('button', { name: 'Add key' }).click();
  await page.getByLabel('Key, or a text with keys in it').fill('no key in here');
  await page.getByRole('button', { name: 'Add and try' }).click();
  await expect(page.getByText('There is no key in this text.').first()).toBeVisible();
  await page.getByLabel('Key, or a text with keys in it').fill('ab'.repeat(32));
  await page.getByRole('button', { name: 'Add and try' }).click();
  await expect(
    page.getByText('1 key was tried, and does not fit: what it opens at byte 76 does not check').first(),
  ).toBeVisible();
  await expect(page.getByText('opens nothing here')).toBeVisible();
  await expect(page.getByRole('heading', { name: '2 of 20 archives are open' })).toBeVisible();
});

test('a cut and a damaged hold are named with field and byte; the others stay open', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  const sheets = fs.readFileSync(hold(lanternfen.folder, 'h01-sheets.hold'));
  fs.writeFileSync(hold(lanternfen.folder, 'h01-sheets.hold'), sheets.subarray(0, 50_000));
  const voices = fs.readFileSync(hold(lanternfen.folder, 'h02-voices.hold'));
  voices[12]! ^= 1;
  fs.writeFileSync(hold(lanternfen.folder, 'h02-voices.hold'), voices);
  await page.goto(`/games/${lanternfen.id}/folder`);
  await page.getByRole('button', { name: 'Scan again' }).first().click();
  await page.getByRole('link', { name: /Locks/ }).click();
  await expect(page.getByRole('heading', { name: '18 of 20 archives are open' })).toBeVisible();
  await page.getByRole('cell', { name: 'holds/h01-sheets.hold', exact: true }).click();
  await expect(
    page
      .getByText(/holds\/h01-sheets\.hold, .*byte \d+: .*(outside the file|too early|does not hold)/)
      .first(),
  ).toBeVisible();
  await page.getByRole('cell', { name: 'holds/h02-voices.hold', exact: true }).click();
  await expect(page.getByRole('complementary').getByText(/head\.(check|entryCount), byte \d+/)).toBeVisible();
  await openEntry(page, lanternfen.id, 'en/ferry.lines', 'ferry.lines');
  await expect(page.getByText('13 lines, utf-8')).toBeVisible();
});

test('entries with unsafe paths are shown as they are called, and never leave the folder', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  const evil = ['../../escaped.txt', '/etc/escaped.txt', 'fine/good.txt'].map((name) => ({
    path: name,
    data: () => Buffer.from(`bytes of ${name}`),
  }));
  writeHold(hold(lanternfen.folder, 'h50-evil.hold'), evil, { roll: true, rank: 50, salt: Buffer.alloc(16) });
  await server.api.post(`/api/games/${lanternfen.id}/jobs`, { data: { kind: 'scan' } });
  await server.settled(lanternfen.id);
  await page.goto(`/games/${lanternfen.id}/contents?search=escaped`);
  await expect(page.locator('[data-entry]')).toHaveCount(2);
  await page.locator('[data-entry]').first().click();
  await expect(page.getByRole('complementary', { name: 'Inspector' })).toContainText('escaped.txt');
  await page.getByLabel('Pick ../../escaped.txt').check();
  await page.getByLabel('Pick /etc/escaped.txt').check();
  await page.getByRole('region', { name: 'Picked' }).getByRole('button', { name: 'Extract' }).click();
  const target = path.join(scratch, 'deep', 'out');
  fs.mkdirSync(path.dirname(target));
  await page.getByLabel('Folder on this machine').fill(target);
  await page.getByRole('button', { name: 'Write to the folder' }).click();
  await expect.poll(() => fs.existsSync(path.join(target, '__', '__', 'escaped.txt'))).toBe(true);
  await server.settled(lanternfen.id);
  expect(fs.readdirSync(scratch).sort()).toEqual(['deep', 'lanternfen']);
  expect(fs.existsSync('/etc/escaped.txt')).toBe(false);
});

test('a file that is not what its name says changes nothing', async ({ page, server, lanternfen }) => {
  await server.unlock(lanternfen);
  await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Misnamed' } });
  await openEntry(page, lanternfen.id, 'odd/portrait_calm', 'portrait_calm.sheet');
  await page
    .getByLabel('File to put in its place')
    .setInputFiles({ name: 'keeper.png', mimeType: 'image/png', buffer: tone(22050, 0.1, 400) });
  await expect(
    page.getByText('keeper.png is no PNG file: its first bytes are those of a WAV file.'),
  ).toBeVisible();
  await page.getByLabel('File to put in its place').setInputFiles({
    name: 'keeper.png',
    mimeType: 'image/png',
    buffer: Buffer.concat([Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'), Buffer.alloc(50, 7)]),
  });
  await expect(page.getByText(/keeper.png cannot be decoded/)).toBeVisible();
  await page.getByRole('link', { name: /Changes/ }).click();
  await expect(page.getByRole('heading', { name: 'Nothing changed yet' })).toBeVisible();
});

test('a game folder that vanished is said, and comes back', async ({ page, server, lanternfen, scratch }) => {
  await server.unlock(lanternfen);
  const away = path.join(scratch, 'elsewhere');
  fs.renameSync(lanternfen.folder, away);
  await page.goto('/');
  await expect(
    page.getByRole('link', { name: new RegExp(lanternfen.title) }).getByText('folder gone'),
  ).toBeVisible();
  await page.goto(`/games/${lanternfen.id}/folder`);
  await expect(page.getByText(/is no longer there. Put it back or mount it again/)).toBeVisible();
  await page.goto(`/games/${lanternfen.id}/contents?search=credits`);
  await page.locator('[data-entry]').first().click();
  await expect(page.getByRole('alert').getByText(/is no longer there/)).toBeVisible();
  await page.goto(`/games/${lanternfen.id}/folder`);
  await page.getByLabel('Folder of the game').fill(away);
  const moved = page.waitForResponse((response) => response.request().method() === 'PATCH');
  await page.getByRole('button', { name: 'Use this folder' }).click();
  await moved;
  await expect(page.getByText(/is no longer there/)).toHaveCount(0);
  await openEntry(page, lanternfen.id, 'credits.txt');
  await expect(page.getByText('No otters were paid.')).toBeVisible();
});

test('a full disk on build is said before anything is written, and nothing half is left', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  const mod = (await (
    await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Too large' } })
  ).json()) as { id: number };
  const builds = path.join(process.env.ZERO_LATCH_STORAGE ?? '.data/storage', 'builds');
  fs.mkdirSync(builds, { recursive: true });
  const before = folderHash(lanternfen.folder);
  const mounted =
    process.getuid?.() === 0 &&
    spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=64k', 'tmpfs', builds]).status === 0;
  test.skip(
    !mounted,
    'only root can make a small disk here; the command line has the same test with a size limit',
  );
  try {
    await openEntry(page, lanternfen.id, 'odd/greeting.wav', 'greeting.wav');
    await page
      .getByLabel('File to put in its place')
      .setInputFiles({ name: 'hello.wav', mimeType: 'audio/wav', buffer: tone(22050, 1.5, 440) });
    await expect(page.getByText(/greeting.wav replaced/)).toBeVisible();
    await page.goto(`/games/${lanternfen.id}/build`);
    await page.getByRole('button', { name: 'Build', exact: true }).click();
    await expect(
      page.getByText(/The disk has \d+ bytes left, .* needs \d+\. Nothing was written/).first(),
    ).toBeVisible();
    await expect(page.getByText('Not built yet.', { exact: false })).toBeVisible();
    expect(fs.readdirSync(builds)).toEqual([]);
    expect(folderHash(lanternfen.folder)).toBe(before);
  } finally {
    execFileSync('umount', [builds]);
  }
  await page.getByRole('button', { name: 'Build', exact: true }).click();
  await expect(page.getByText('the proof holds')).toBeVisible();
  expect(mod.id).toBeGreaterThan(0);
});

test('an archive that changed after the build is not overwritten', async ({ page, server, lanternfen }) => {
  await server.unlock(lanternfen);
  await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Late' } });
  await openEntry(page, lanternfen.id, 'credits.txt');
  await page.getByLabel('File to put in its place').setInputFiles({
    name: 'credits.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from('The otters were paid.\n'),
  });
  await page.goto(`/games/${lanternfen.id}/build`);
  await page.getByRole('button', { name: 'Build', exact: true }).click();
  await expect(page.getByText('the proof holds')).toBeVisible();
  fs.appendFileSync(hold(lanternfen.folder, 'h00-core.hold'), 'an update');
  const changed = folderHash(lanternfen.folder);
  await page.getByRole('button', { name: 'Install', exact: true }).click();
  await expect(page.getByText(/is not what it was when this was planned/).first()).toBeVisible();
  expect(folderHash(lanternfen.folder)).toBe(changed);
});
