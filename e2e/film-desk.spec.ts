import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { expect, test } from './fixtures';
import { modOf } from './mods-api';

/** What stands around a film that is replaced: its marks and texts in time, texts of a program, single pictures, a pause. */
test('a film at the desk: marks and texts are moved on the time line, and a new film is made of single pictures and a sound, with a pause', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const archives = (await (await server.api.get(`/api/games/${lanternfen.id}/archives`)).json()) as {
    id: number;
    path: string;
  }[];
  const film = (end: string): number => archives.find(({ path: own }) => own.endsWith(end))!.id;
  const mod = await modOf(server, lanternfen, 'The desk', {});
  const view = async (): Promise<{ allMarks: { seconds: number; text: string }[] }> =>
    (await server.api.get(`/api/games/${lanternfen.id}/films/${film('opening.spool')}m${mod}`)).json();
  const marks = async (): Promise<string[]> =>
    (await view()).allMarks.map(({ seconds, text }) => `${seconds} ${text}`);
  const line = page.getByRole('region', { name: 'Time line' });

  await test.step('a mark is moved by keys, named, taken out, and another one set', async () => {
    await page.goto(`/games/${lanternfen.id}/film?film=${film('opening.spool')}m${mod}`);
    await expect(page.locator('[data-ready="true"]')).toBeVisible();
    await line.getByRole('slider', { name: 'Mark keeper' }).focus();
    for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
    await expect.poll(marks).toContain('10.05 keeper');
    // The film stays where it is, and the key goes on working.
    await expect(line.getByRole('slider', { name: 'Mark keeper' })).toBeFocused();
    await page.keyboard.press('ArrowLeft');
    await expect.poll(marks).toContain('10.04 keeper');
    await line.getByLabel('Name of the mark').fill('the keeper');
    await page.keyboard.press('Enter');
    await expect.poll(marks).toContain('10.04 the keeper');
    await line.getByRole('button', { name: 'Show' }).click();
    await expect(page.getByText(/^00:10\.0\d\d of 00:28\.000/)).toBeVisible();
    await line.getByRole('button', { name: 'Take it out' }).click();
    await expect.poll(async () => (await marks()).join()).not.toContain('keeper');
    await line.getByRole('button', { name: 'Mark this place' }).click();
    await expect.poll(async () => (await marks()).join()).toMatch(/10(\.0\d+)? mark/);
  });

  await test.step('a text is shown earlier, in all languages, and only one of them is shown', async () => {
    const begin = line.getByRole('slider', { name: /^Begin of She counts the reeds/ });
    await begin.focus();
    for (let i = 0; i < 10; i++) await page.keyboard.press('ArrowLeft');
    await expect.poll(marks).toContain('14.9 say opening.count 3500');
    await expect(page.getByText('00:14.900 to 00:18.400')).toHaveCount(3);
    const shown = (): Promise<number> =>
      page
        .getByLabel(/^Film /)
        .evaluate(
          (video: HTMLVideoElement) => [...video.textTracks].filter(({ mode }) => mode === 'showing').length,
        );
    await expect.poll(shown).toBe(1);
    const changes = (await (
      await server.api.get(`/api/games/${lanternfen.id}/mods/${mod}/changes`)
    ).json()) as { path: string; fit: string }[];
    expect(changes).toMatchObject([{ path: 'spools/opening.spool/marks.txt', fit: 'fits' }]);
  });

  await test.step('a text is added where the film stands, in all languages, written, and taken out of sight', async () => {
    await line.getByRole('button', { name: 'Text from here' }).click();
    const english = page.getByRole('region', { name: 'Subtitles, English' });
    const field = english.getByLabel(/^Text at 00:15\.0\d\d, English$/);
    await expect(field).toHaveValue('…');
    await expect(page.getByLabel(/^Text at 00:15\.0\d\d, German$/)).toHaveValue('…');
    await field.fill('Somebody is on the jetty.');
    await field.press('Enter');
    await expect(line.getByRole('slider', { name: /^Begin of Somebody is on the jetty/ })).toBeVisible();
    const paths = async (): Promise<string[]> =>
      (
        (await (await server.api.get(`/api/games/${lanternfen.id}/mods/${mod}/changes`)).json()) as {
          path: string;
        }[]
      ).map(({ path: own }) => own);
    await expect
      .poll(paths)
      .toEqual(expect.arrayContaining(['text/de/films.lines', 'text/en/films.lines', 'text/no/films.lines']));
    await english.getByRole('button', { name: /^Show no text at 00:15\.0/ }).click();
    await expect(field).toHaveCount(0);
    await expect.poll(async () => (await marks()).join()).not.toMatch(/(^|,)15(\.0\d*)? say/);
  });

  await test.step('it is taken out with two of its three sounds', async () => {
    await page.getByRole('button', { name: 'Take out…' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('German, OPUS').uncheck();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      dialog.getByRole('link', { name: 'Take it out' }).click(),
    ]);
    const file = path.join(scratch, download.suggestedFilename());
    await download.saveAs(file);
    expect(file).toMatch(/opening\.mkv$/);
    const words = [
      '-v',
      'error',
      '-show_entries',
      'stream=codec_name:stream_tags=language',
      '-of',
      'csv=p=0',
      file,
    ];
    const said = execFileSync('ffprobe', words).toString();
    expect(said.trim().split('\n')).toEqual(['vp8', 'opus,eng', 'opus,nor']);
  });

  await test.step('texts of a program are shown with the film at their times', async () => {
    await page.goto(`/games/${lanternfen.id}/film?film=${film('toll.spool')}`);
    await expect(page.locator('[data-ready="true"]')).toBeVisible();
    await page.getByLabel('Part of a text that is shown').fill('two coins');
    await page.getByRole('button', { name: 'Look' }).click();
    await expect(page.getByLabel('Subtitles', { exact: true })).toHaveText('of a program');
    await page.getByText('00:00.600 to 00:03.400').click();
    const cue = (): Promise<string | undefined> =>
      page
        .getByLabel(/^Film /)
        .evaluate(
          (video: HTMLVideoElement) =>
            ([...video.textTracks].find(({ mode }) => mode === 'showing')?.cues?.[0] as VTTCue | undefined)
              ?.text,
        );
    await expect.poll(cue).toBe('The toll is two coins. For you, three.');
  });

  await test.step('single pictures and a sound become the film; its making is paused and goes on', async () => {
    const shots = path.join(scratch, 'shot%03d.png');
    const source = 'mandelbrot=size=640x320:rate=12:end_pts=400,trim=end_frame=240';
    execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', source, '-compression_level', '1', shots]);
    const sound = path.join(scratch, 'beside.wav');
    execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'sine=duration=20', sound]);
    const files = Array.from({ length: 240 }, (_, i) =>
      path.join(scratch, `shot${String(i + 1).padStart(3, '0')}.png`),
    );
    await page.goto(`/games/${lanternfen.id}/film?film=${film('opening.spool')}m${mod}`);
    await page.getByRole('button', { name: 'Make a new one…' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('File of the new film').setInputFiles([...files.reverse(), sound]);
    await expect(dialog.getByText(/shot001\.png: 640 x 320, PNG, 00:20\.0\d\d, 1 sound/)).toBeVisible();
    await expect(dialog.getByText('240 pictures, shown')).toBeVisible();
    await dialog.getByLabel('Work').click();
    await page.getByRole('option', { name: 'slow, and finer' }).click();
    await dialog.getByRole('button', { name: 'Make the film' }).click();
    await page.getByRole('button', { name: /1 job/ }).click();
    const job = page.locator('[data-job="make-film"]').first();
    await job.getByRole('button', { name: 'Pause' }).click();
    await expect(job).toHaveAttribute('data-state', 'paused');
    await job.getByRole('button', { name: 'Go on' }).click();
    await server.settled(lanternfen.id);
    await expect(job).toHaveAttribute('data-state', 'done');
    await page.keyboard.press('Escape');
    await expect(page.getByText('picture 1 of 240')).toBeVisible();
  });
});
