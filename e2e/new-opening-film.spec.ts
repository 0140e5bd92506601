import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { expect, folderHash, openEntry, test, type Game, type Server } from './fixtures';
import { buildMod, installMod, restoreGame } from './mod-steps';
import { job } from './mods-api';

/** A film of another size, rate and codec than the game's, with two sounds in languages of their own. */
function filmAt(file: string, seconds: number): void {
  const sound = (hertz: number): string[] => [
    '-f',
    'lavfi',
    '-i',
    `sine=frequency=${hertz}:duration=${seconds}`,
  ];
  execFileSync('ffmpeg', [
    ...[
      '-v',
      'error',
      '-f',
      'lavfi',
      '-i',
      `mandelbrot=size=640x360:rate=30:end_pts=200,trim=duration=${seconds}`,
    ],
    ...[
      ...sound(330),
      ...sound(500),
      '-map',
      '0:v',
      '-map',
      '1:a',
      '-map',
      '2:a',
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
    ],
    ...[
      '-c:a',
      'aac',
      '-metadata:s:a:0',
      'language=eng',
      '-metadata:s:a:1',
      'language=deu',
      '-shortest',
      file,
    ],
  ]);
}

/** What ffprobe, which shares no reader with us, says of a file. */
const probed = (file: string, entries: string): string =>
  execFileSync('ffprobe', ['-v', 'error', '-count_frames', '-show_entries', entries, '-of', 'csv=p=0', file])
    .toString()
    .trim();

const shownFrames = (page: Page): Promise<number> =>
  page
    .getByLabel(/^Film /)
    .evaluate((video: HTMLVideoElement) => video.getVideoPlaybackQuality().totalVideoFrames);

async function archiveOf(server: Server, game: Game, end: string): Promise<number> {
  const archives = (await (await server.api.get(`/api/games/${game.id}/archives`)).json()) as {
    id: number;
    path: string;
  }[];
  return archives.find(({ path: own }) => own.endsWith(end))!.id;
}

test('new-opening-film: watched, taken apart, made anew from an MP4 with its texts, built, tried and taken back', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  const untouched = folderHash(lanternfen.folder);
  await server.unlock(lanternfen);
  const film = await archiveOf(server, lanternfen, 'spools/opening.spool');
  const player = page.locator('[data-ready]');

  await test.step('the film is found and watched, with its sounds, texts and marks', async () => {
    await openEntry(page, lanternfen.id, 'opening.spool/picture', 'picture.ivf');
    await page.goto(`/games/${lanternfen.id}/film?film=${film}`);
    await expect(page.getByRole('heading', { name: 'spools/opening.spool' })).toBeVisible();
    await expect(player).toHaveAttribute('data-ready', 'true');
    await expect(page.getByText('picture 1 of 336')).toBeVisible();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('ArrowRight');
    await expect(page.getByText('picture 3 of 336')).toBeVisible();
    await page.keyboard.press('ArrowLeft');
    await expect(page.getByText('picture 2 of 336')).toBeVisible();
    await page.getByRole('group', { name: 'Marks' }).getByRole('button', { name: 'widow' }).click();
    await expect(page.getByText('00:14.500 of 00:28.000')).toBeVisible();
    await page.getByLabel('Sound', { exact: true }).click();
    await page.getByRole('option', { name: 'German' }).click();
    await page.getByLabel('Subtitles', { exact: true }).click();
    await page.getByRole('option', { name: 'German' }).click();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Play' }).click();
    await expect(page.locator('[data-playing="true"]')).toBeVisible();
    const before = await shownFrames(page);
    await expect.poll(() => shownFrames(page)).toBeGreaterThan(before + 5);
    const shown = (): Promise<string> =>
      page
        .getByLabel(/^Film /)
        .evaluate((video: HTMLVideoElement) =>
          [...video.textTracks]
            .flatMap((track) => [...(track.activeCues ?? [])].map((cue) => (cue as VTTCue).text))
            .join(),
        );
    await expect.poll(shown).toBe('Sie zählt das Schilf. Hilf ihr nicht dabei.');
    await page.getByRole('button', { name: 'Pause' }).click();
  });

  await test.step('one picture and the texts are saved', async () => {
    const [picture] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Save this picture' }).click(),
    ]);
    const file = path.join(scratch, 'one.png');
    await picture.saveAs(file);
    expect(probed(file, 'stream=width,height')).toBe('384,192');
    const [all] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Save all pictures' }).click(),
    ]);
    const zip = path.join(scratch, 'all.zip');
    await all.saveAs(zip);
    const names = execFileSync('unzip', ['-Z1', zip]).toString().trim().split('\n');
    expect(names).toHaveLength(336);
    expect(names[0]).toBe('opening-000001.png');
    await page.getByRole('button', { name: 'Measure how loud' }).click();
    await expect(page.getByRole('region', { name: 'How loud' })).toContainText(/English-\d+\.\d LUFS/);
    const german = page.getByRole('region', { name: 'Subtitles, German' });
    const [texts] = await Promise.all([
      page.waitForEvent('download'),
      german.getByRole('link', { name: 'SRT' }).click(),
    ]);
    const srt = path.join(scratch, 'opening.srt');
    await texts.saveAs(srt);
    expect(fs.readFileSync(srt, 'utf8')).toContain(
      '00:00:05,000 --> 00:00:08,200\nJede Nacht rudert der Wärter hinaus.',
    );
  });

  await test.step('it is taken out as a common file with all its sounds', async () => {
    const out = path.join(scratch, 'taken');
    const entries = (await (
      await server.api.get(`/api/games/${lanternfen.id}/entries?search=opening.spool/picture&archive=${film}`)
    ).json()) as { rows: { archiveId: number; index: number }[] };
    const [{ archiveId, index }] = entries.rows as [{ archiveId: number; index: number }];
    fs.mkdirSync(out);
    const done = await job(server, lanternfen, {
      kind: 'extract',
      entries: [{ archiveId, index }],
      folder: out,
      convert: { film: 'mkv' },
    });
    expect(done).toMatchObject({ state: 'done' });
    const [name] = (fs.readdirSync(out, { recursive: true }) as string[]).filter((one) =>
      one.endsWith('.mkv'),
    );
    const file = path.join(out, name!);
    expect(probed(file, 'stream=codec_name,width,nb_read_frames:stream_tags=language').split('\n')).toEqual([
      expect.stringMatching(/^vp8,384,336/),
      expect.stringMatching(/^opus,.*eng/),
      expect.stringMatching(/^opus,.*deu/),
      expect.stringMatching(/^opus,.*nor/),
    ]);
    // Nothing was coded anew: the pictures are those of the game, one by one.
    const sums = (input: string): string =>
      execFileSync('ffmpeg', ['-v', 'error', '-i', input, '-map', '0:v', '-f', 'framemd5', '-'])
        .toString()
        .replace(/^#.*\n/gm, '')
        .replace(/^.*, /gm, '');
    const stored = path.join(scratch, 'picture.ivf');
    const raw = await server.api.get(`/api/games/${lanternfen.id}/entries/${archiveId}/${index}/raw?save`);
    fs.writeFileSync(stored, await raw.body());
    expect(sums(file)).toBe(sums(stored));
  });

  const mp4 = path.join(scratch, 'mine.mp4');
  filmAt(mp4, 8);
  await test.step('a new one is made of an MP4: tried on a few seconds, as the original, two languages new, one kept', async () => {
    await page.getByRole('button', { name: 'Make a new one…' }).click();
    await page.getByLabel('Name of the mod').fill('Another night');
    await page.getByRole('button', { name: 'Make it' }).click();
    await expect(page.getByRole('dialog')).toContainText('A new film for spools/opening.spool');
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('File of the new film').setInputFiles(mp4);
    await expect(dialog.getByText(/mine\.mp4: 640 x 360, H264/)).toBeVisible();
    await expect(dialog.getByLabel('Norwegian')).toHaveText('the old one, kept');
    await dialog.getByRole('button', { name: 'Try a few seconds' }).click();
    await expect(dialog.getByRole('status')).toContainText(/About \d+ KB of pictures, give or take \d+ %/);
    await dialog.getByRole('button', { name: 'Make the film' }).click();
    await expect(dialog).toBeHidden();
    await server.settled(lanternfen.id);
    await page.getByRole('button', { name: 'As changed' }).click();
    await expect(page.getByText('picture 1 of 96')).toBeVisible();
    await page.getByRole('button', { name: 'Beside the old one' }).click();
    const old = page.getByLabel('The old opening.spool');
    await page.getByLabel('Place in the film').focus();
    await page.getByLabel(/^Film /).evaluate((video: HTMLVideoElement) => (video.currentTime = 5));
    await expect.poll(() => old.evaluate((video: HTMLVideoElement) => video.currentTime)).toBeCloseTo(5, 0);
  });

  await test.step('its texts are changed where they stand, and from a file', async () => {
    const english = page.getByRole('region', { name: 'Subtitles, English' });
    const first = english.getByLabel(/^Text at 00:05\.000/);
    await first.fill('A light goes out to the reeds.');
    await first.press('Enter');
    await expect(english.getByLabel(/^Text at 00:05\.000/)).toHaveValue('A light goes out to the reeds.');
    await server.settled(lanternfen.id);
    const german = page.getByRole('region', { name: 'Subtitles, German' });
    const srt = path.join(scratch, 'new.srt');
    fs.writeFileSync(
      srt,
      fs
        .readFileSync(path.join(scratch, 'opening.srt'), 'utf8')
        .replace('Geh trocken. Kehr trocken zurück.', 'Geh heil.\nKehr heil zurück.'),
    );
    await german.getByLabel('File of subtitles, German').setInputFiles(srt);
    await expect(page.getByRole('dialog')).toContainText('1 text will be changed');
    await page.getByRole('button', { name: 'Take them in' }).click();
    await expect(german.getByLabel(/^Text at 00:22\.800/)).toHaveValue('Geh heil. Kehr heil zurück.');
    // What is shown after the new film has ended is pointed out.
    await expect(english.getByText('It is shown after the film has ended.').first()).toBeVisible();
  });

  await test.step('built, installed, and played by the stand-in with its texts', async () => {
    await page.goto(`/games/${lanternfen.id}/changes`);
    await page.getByRole('option').filter({ hasText: 'picture.ivf' }).click();
    await expect(
      page.getByText(/made here: VP8, 384 x 192, 12 pictures a second, 96 of them/).first(),
    ).toBeVisible();
    await expect(page.getByText(/marks lie behind the end/).first()).toBeVisible();
    // Both sides are the film, as it is and as it will be.
    await expect(page.getByText('picture 1 of 336')).toBeVisible();
    await expect(page.getByText('picture 1 of 96')).toBeVisible();
    await buildMod(page, ['spools/opening.spool']);
    await installMod(page, 2);
    await page.getByRole('link', { name: 'To the trial' }).click();
    await page.getByRole('button', { name: 'Run the trial' }).first().click();
    await expect(page.getByRole('heading', { name: 'The game loads' })).toBeVisible();
    const scene = page.frameLocator('iframe');
    await expect(scene.getByText('opening.spool: 96 pictures, 8.0 s, sound en of en, de, no')).toBeVisible();
    const video = scene.getByLabel('opening.spool');
    await expect.poll(() => video.evaluate((one: HTMLVideoElement) => one.duration)).toBeCloseTo(8, 0);
    await expect
      .poll(() =>
        video.evaluate(
          (one: HTMLVideoElement) =>
            [...(one.textTracks[0]?.cues ?? [])].map((cue) => (cue as VTTCue).text)[0],
        ),
      )
      .toBe('A light goes out to the reeds.');
  });

  await test.step('a film whose key was left out stalls the game, which leads back to it', async () => {
    const file = path.join(lanternfen.folder, 'spools', 'opening.spool');
    const good = fs.readFileSync(file);
    const bad = Buffer.from(good);
    bad.fill(0, 64, 80);
    fs.writeFileSync(file, bad);
    await page.getByRole('button', { name: 'Run the trial' }).first().click();
    await expect(page.getByRole('heading', { name: /stalls/ })).toBeVisible();
    await expect(page.getByText(/not keyed as the game expects/).first()).toBeVisible();
    fs.writeFileSync(file, good);
  });

  await test.step('the folder is what it was', () => restoreGame(page, lanternfen.folder, untouched));
});
