import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { expect, expectHeard, filesBelow, folderHash, openEntry, test } from './fixtures';
import { job } from './mods-api';
import { buildMod, installMod, restoreGame } from './mod-steps';

/** One take of a keyed songbook is replaced from an MP3, in the book's own codec, and the game plays it. */
test('one voice line: a take of a keyed book is replaced from an MP3, heard as it will be, built, tried and taken back', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  const untouched = folderHash(lanternfen.folder);
  await server.unlock(lanternfen);
  const mp3 = path.join(scratch, 'line.mp3');
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-f', 'lavfi', '-i', 'sine=frequency=300:duration=1.2:sample_rate=44100'],
    ...['-ac', '2', mp3],
  ]);
  const answer = await server.api.post(`/api/games/${lanternfen.id}/mods`, {
    data: { title: 'The Widow speaks' },
  });
  expect(answer.status()).toBe(200);

  await test.step('the take plays; the number from 0 and the one in lists are both shown', async () => {
    await openEntry(page, lanternfen.id, '0417/003', '003.adpcm');
    const inspector = page.getByLabel('Inspector');
    await expect(inspector.getByText('22,050 Hz, mono, IMA ADPCM')).toBeVisible();
    await expect(inspector.getByText(/^\d+ from 0, \d+ in lists$/)).toBeVisible();
    await page.keyboard.press(' ');
    await expectHeard(page);
  });

  await test.step('an MP3 does not fit until it is converted, which says what is lost', async () => {
    await page.getByLabel('File to put in its place').setInputFiles(mp3);
    await expect(page.getByText(/003\.adpcm replaced/)).toBeVisible();
    await page.goto(`/games/${lanternfen.id}/changes`);
    await page.getByRole('option').filter({ hasText: '003.adpcm' }).click();
    await expect(
      page.getByText(/MP3, 44100 Hz, 2 channels given, the slot has 22050 Hz, mono/).first(),
    ).toBeVisible();
    await page.getByRole('button', { name: /^Convert to 22050 Hz, mono/ }).click();
    await expect(page.getByText(/coded as IMA ADPCM, signal to noise \d\d\.\d dB/).first()).toBeVisible();
    await expect(page.getByText('put into Songbook, Peatfire').first()).toBeVisible();
    // What is heard now are the bytes that will be written.
    await expect(page.getByText(/^0:00\.00 of 0:01\.[12]\d$/)).toBeVisible();
  });

  await test.step('built, installed and played by the stand-in', async () => {
    await buildMod(page, ['songs/0417.songbook']);
    await installMod(page, 1);
    await page.getByRole('link', { name: 'To the trial' }).click();
    await page.getByRole('button', { name: 'Run the trial' }).first().click();
    await expect(page.getByRole('heading', { name: 'The game loads' })).toBeVisible();
    const song = page.frameLocator('iframe').locator('audio[src="song.wav"]');
    await expect.poll(() => song.evaluate((audio: HTMLAudioElement) => audio.duration)).toBeCloseTo(1.2, 1);
  });

  await test.step('a book that was damaged on the way stalls the game', async () => {
    const file = path.join(lanternfen.folder, 'songs', '0417.songbook');
    const good = fs.readFileSync(file);
    const bad = Buffer.from(good);
    // What is checked over its list of takes.
    bad[28]! ^= 1;
    fs.writeFileSync(file, bad);
    await page.getByRole('button', { name: 'Run the trial' }).first().click();
    await expect(page.getByRole('heading', { name: /stalls/ })).toBeVisible();
    fs.writeFileSync(file, good);
  });

  await test.step('the folder is what it was', () => restoreGame(page, lanternfen.folder, untouched));

  await test.step('kept in the other codec of its book it is heard, built and played as well, and goes back to its own', async () => {
    await page.goto(`/games/${lanternfen.id}/changes`);
    await page.getByRole('option').filter({ hasText: '003.adpcm' }).click();
    await page.getByRole('button', { name: 'Keep as opus' }).click();
    await expect(page.getByText('kept as opus, in the place of 0417/003.adpcm').first()).toBeVisible();
    await expect(page.getByText(/calls it 0417\/003\.opus from then on/).first()).toBeVisible();
    await expect(page.getByText(/^0:00\.00 of 0:01\.[12]\d$/)).toBeVisible();
    await buildMod(page, ['songs/0417.songbook']);
    await installMod(page, 1);
    await page.getByRole('link', { name: 'To the trial' }).click();
    await page.getByRole('button', { name: 'Run the trial' }).first().click();
    await expect(page.getByRole('heading', { name: 'The game loads' })).toBeVisible();
    const song = page.frameLocator('iframe').locator('audio[src="song.ogg"]');
    await expect.poll(() => song.evaluate((audio: HTMLAudioElement) => audio.duration)).toBeCloseTo(1.2, 1);
    await openEntry(page, lanternfen.id, '0417/003', '003.opus');
    await restoreGame(page, lanternfen.folder, untouched);
    await page.goto(`/games/${lanternfen.id}/changes`);
    await page.getByRole('option').filter({ hasText: '003.adpcm' }).click();
    await page.getByRole('button', { name: 'Keep as adpcm again' }).click();
    await expect(page.getByText(/coded as IMA ADPCM, signal to noise \d\d\.\d dB/).first()).toBeVisible();
    await expect(page.getByText('kept as opus, in the place of')).toHaveCount(0);
  });

  await test.step('the same line in other languages stands beside it, and those that were forgotten are pointed out', async () => {
    await openEntry(page, lanternfen.id, '0417/003', '003.adpcm');
    const others = page.getByRole('region', { name: 'The same line in other languages' });
    await expect(others).toContainText('German');
    await expect(others).toContainText('Norwegian');
    await others.getByRole('button', { name: 'Play German' }).click();
    await expect(others.getByRole('button', { name: 'Stop German' })).toBeVisible();
    await page.goto(`/games/${lanternfen.id}/changes`);
    await page.getByRole('option').filter({ hasText: '003.adpcm' }).click();
    await expect(
      page.getByText('It is the same line in German; players of that language go on hearing'),
    ).toBeVisible();
    await openEntry(page, lanternfen.id, 'de/0417/003', '003.adpcm');
    await page.getByLabel('File to put in its place').setInputFiles(mp3);
    await expect(page.getByText(/003\.adpcm replaced/)).toBeVisible();
    await page.goto(`/games/${lanternfen.id}/changes`);
    const convert = page.getByRole('button', { name: /^Convert to 22050 Hz, mono/ });
    await convert.click();
    // It is converted once that is no longer offered; who goes away before may leave it as it was.
    await expect(convert).toHaveCount(0);
    await expect(page.getByText('players of that language go on hearing')).toHaveCount(1);
  });

  await test.step('built as books of their own, which are asked first in each language', async () => {
    const before = filesBelow(lanternfen.folder);
    await page.goto(`/games/${lanternfen.id}/build`);
    await page.getByRole('region', { name: 'Way to build' }).getByLabel('An archive of its own').check();
    await page.getByRole('button', { name: /^Build/ }).click();
    await expect(page.getByText('the proof holds')).toBeVisible();
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    const added = (): string[] => filesBelow(lanternfen.folder).filter((name) => !before.includes(name));
    await expect.poll(added).toContain('songs/the-widow-speaks-0417.songbook');
    await server.settled(lanternfen.id);
    expect(added()).toContain('songs/de/the-widow-speaks-0417.songbook');
    const settings = path.join(lanternfen.folder, 'settings.ini');
    const text = fs.readFileSync(settings, 'utf8');
    for (const [tongue, take] of [
      ['en', '0417/003'],
      ['de', 'de/0417/003'],
    ]) {
      fs.writeFileSync(settings, text.replace('tongue=en', `tongue=${tongue}`));
      expect(await job(server, lanternfen, { kind: 'trial' })).toMatchObject({
        ...{ state: 'done', result: { loaded: true } },
      });
      const [trial] = (await (await server.api.get(`/api/games/${lanternfen.id}/trials`)).json()) as {
        report: { log: { event: string; what: string; from?: string }[] };
      }[];
      expect(trial!.report.log.find(({ what }) => what === take)!.from).toBe(
        'the-widow-speaks-0417.songbook',
      );
    }
    fs.writeFileSync(settings, text);
    await page.goto(`/games/${lanternfen.id}/installed`);
    await restoreGame(page, lanternfen.folder, untouched);
  });
});
