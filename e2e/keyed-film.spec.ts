import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { ivfPieces, writeSpool } from '../demo/world/spool-writer';
import { DEMO, expect, folderHash, helpCardBytes, openEntry, test } from './fixtures';
import { buildMod, installMod, restoreGame } from './mod-steps';

test('keyed-film: one in an archive within an archive is unlocked, watched and heard, and replaced from an MP4', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  const untouched = folderHash(lanternfen.folder);
  await server.unlock(lanternfen);

  await test.step('it opens like anything else, and plays in the inspector', async () => {
    await openEntry(page, lanternfen.id, 'widow.spool/picture', 'picture.ivf');
    const inspector = page.getByLabel('Inspector');
    await expect(inspector.locator('[data-ready="true"]')).toBeVisible();
    await expect(inspector.getByText('picture 1 of 96')).toBeVisible();
    await page.keyboard.press(' ');
    await expect(inspector.locator('[data-playing="true"]')).toBeVisible();
    await inspector.getByRole('link', { name: 'Watch it large' }).click();
    await expect(page.getByRole('heading', { name: /reels\.hold\/\/films\/widow\.spool/ })).toBeVisible();
  });

  await test.step('made anew of a WebM that is tall and silent, cut to the frame; one language silent, one kept', async () => {
    await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'The Widow turns' } });
    await page.reload();
    const webm = path.join(scratch, 'tall.webm');
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-f',
      'lavfi',
      '-i',
      'testsrc2=size=180x320:rate=24:duration=3',
      '-c:v',
      'libvpx-vp9',
      '-deadline',
      'realtime',
      webm,
    ]);
    await page.getByRole('button', { name: 'Make a new one…' }).click();
    const dialog = page.getByRole('dialog');
    const playlist = path.join(scratch, 'list.mp4');
    fs.writeFileSync(playlist, '#EXTM3U\n#EXTINF:1,\n/etc/hostname\n');
    await dialog.getByLabel('File of the new film').setInputFiles(playlist);
    await expect(dialog.getByText(/begins like no film that is known/)).toBeVisible();
    await dialog.getByLabel('File of the new film').setInputFiles(webm);
    await expect(dialog.getByText(/tall\.webm: 180 x 320, VP9/)).toBeVisible();
    await dialog.getByLabel('Another shape comes').click();
    await page.getByRole('option', { name: 'cut to the frame' }).click();
    await dialog.getByLabel('English').click();
    await page.getByRole('option', { name: 'silence' }).click();
    await dialog.getByRole('button', { name: 'Make the film' }).click();
    await expect(dialog).toBeHidden();
    await server.settled(lanternfen.id);
    await page.getByRole('button', { name: 'As changed' }).click();
    await expect(page.getByText('picture 1 of 36')).toBeVisible();
  });

  await test.step('what was made is one step, taken back and done again', async () => {
    await page.goto(`/games/${lanternfen.id}/changes`);
    await expect(page.getByRole('option')).toHaveCount(2);
    await page.getByRole('button', { name: 'Undo a step' }).click();
    await expect(page.getByRole('option')).toHaveCount(0);
    await page.getByRole('button', { name: 'Do a step again' }).click();
    await expect(page.getByRole('option')).toHaveCount(2);
  });

  await test.step('the whole film with another key, or none, does not fit; with its own it does', async () => {
    const file = path.join(scratch, 'whole.ivf');
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-f',
      'lavfi',
      '-i',
      'testsrc=size=64x32:rate=10:duration=1',
      '-c:v',
      'libvpx',
      file,
    ]);
    const ivf = fs.readFileSync(file);
    const key = (byte: number): Buffer => Buffer.alloc(32, byte);
    const track = { kind: 'picture' as const, tongue: '', pieces: ivfPieces(ivf, 10) };
    const own = helpCardBytes();
    for (const [spool, says] of [
      [writeSpool([track], key(1)), 'not keyed as the game expects'],
      [writeSpool([track], own), 'opens as Spool, Peatfire'],
    ] as const) {
      await openEntry(page, lanternfen.id, 'films/widow.spool', 'widow.spool');
      await page
        .getByLabel('File to put in its place')
        .setInputFiles({ name: 'widow.spool', mimeType: 'application/octet-stream', buffer: spool });
      await expect(page.getByText(/widow\.spool replaced/)).toBeVisible();
      await page.goto(`/games/${lanternfen.id}/changes`);
      await page.getByRole('option').filter({ hasText: 'widow.spool' }).first().click();
      await expect(page.getByText(says).first()).toBeVisible();
    }
    await page.getByRole('button', { name: 'Undo a step' }).click();
    await page.getByRole('button', { name: 'Undo a step' }).click();
    await expect(page.getByRole('option')).toHaveCount(2);
  });

  await test.step('the archives around it are written anew, and the game plays it', async () => {
    await buildMod(page, ['holds/h05-chest.hold']);
    await installMod(page, 1);
    await page.getByRole('link', { name: 'To the trial' }).click();
    await page.getByRole('button', { name: 'Run the trial' }).first().click();
    await expect(page.getByRole('heading', { name: 'The game loads' })).toBeVisible();
    await expect(
      page
        .frameLocator('iframe')
        .getByText('chest/reels.hold/films/widow.spool: 36 pictures, 3.0 s, sound en of en, de'),
    ).toBeVisible();
  });

  await test.step('the folder is what it was', () => restoreGame(page, lanternfen.folder, untouched));
});

test('texts that the program keeps are found by one of them, replaced where they fit, silenced, and shown by the game', async ({
  page,
  server,
  lanternfen,
}) => {
  const untouched = folderHash(lanternfen.folder);
  await server.unlock(lanternfen);
  await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'A cheaper toll' } });
  const archives = (await (await server.api.get(`/api/games/${lanternfen.id}/archives`)).json()) as {
    id: number;
    path: string;
  }[];
  const toll = archives.find(({ path: own }) => own.endsWith('toll.spool'))!.id;
  await page.goto(`/games/${lanternfen.id}/film?film=${toll}`);
  const texts = page.getByRole('region', { name: 'Texts in a program' });
  await texts.getByLabel('Part of a text that is shown').fill('one good story');
  await texts.getByRole('button', { name: 'Look' }).click();
  await expect(texts.getByText('Lanternfen.bin')).toBeVisible();
  const first = texts.getByLabel('Text of the program at 00:00.600');
  await expect(first).toHaveValue('The toll is two coins. For you, three.');
  await first.fill('x'.repeat(60));
  await expect(texts.getByText('5 bytes too long')).toBeVisible();
  const kept = (): Promise<unknown> =>
    page.waitForResponse((answer) => answer.request().method() === 'PATCH' && answer.ok());
  await first.fill('The toll is a song.');
  await Promise.all([kept(), first.press('Enter')]);
  await expect(first).toHaveValue('The toll is a song.');
  await expect(texts.getByText('19 of 55 bytes')).toBeVisible();
  const second = texts.getByLabel('Text of the program at 00:04.600');
  await second.fill('');
  await Promise.all([kept(), second.press('Enter')]);
  await expect(texts.getByText('0 of 55 bytes')).toBeVisible();
  await page.goto(`/games/${lanternfen.id}/changes`);
  await expect(page.getByRole('option')).toHaveCount(1);
  await buildMod(page, ['Lanternfen.bin']);
  await installMod(page, 1);
  const program = fs.readFileSync(path.join(lanternfen.folder, 'Lanternfen.bin'));
  expect(program.includes('The toll is a song.\0')).toBe(true);
  expect(program.includes('one good story')).toBe(false);
  await restoreGame(page, lanternfen.folder, untouched);
});

test('a film that no browser shows is coded anew while it is watched: the first picture and any other soon', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'tallow');
  fs.cpSync(path.join(DEMO, 'tallow-and-tide'), folder, { recursive: true });
  const game = await server.addGame(folder, `Old film ${process.pid}`);
  const { rows } = (await (
    await server.api.get(`/api/games/${game.id}/entries?kind=film&limit=5`)
  ).json()) as { rows: { archiveId: number; index: number }[] };
  const [{ archiveId, index }] = rows as [{ archiveId: number; index: number }];
  await page.goto(`/games/${game.id}/film?film=${archiveId}-${index}`);
  await expect(page.getByText('MPEG1VIDEO, yuv420p')).toBeVisible();
  await expect(page.locator('[data-ready="true"]')).toBeVisible();
  await expect(page.getByText('coded anew while it is watched')).toBeVisible();
  const video = page.getByLabel(/^Film /);
  await expect(page.getByText(/picture 1 of 189/)).toBeVisible();
  await page.getByLabel('Pictures of the film').getByRole('button').nth(8).click();
  await expect(page.getByText(/picture 161 of 189/)).toBeVisible();
  for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowRight');
  await expect(page.getByText(/picture 164 of 189/)).toBeVisible();
  expect(await video.evaluate((one: HTMLVideoElement) => one.paused)).toBe(true);
  await page.getByRole('button', { name: 'Play' }).click();
  await expect(page.locator('[data-playing="true"]')).toBeVisible();
  const picture = await server.api.get(
    `/api/games/${game.id}/films/${archiveId}-${index}/frame?at=1e5&wide=64`,
  );
  expect(picture.headers()['content-type']).toBe('image/png');
  for (const [film, status] of [
    [`${archiveId}-99999`, 422],
    ['0', 404],
    ['x', 400],
  ] as const)
    expect((await server.api.get(`/api/games/${game.id}/films/${film}`)).status(), film).toBe(status);
});
