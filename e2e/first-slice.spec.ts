import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { play } from '../demo/runtime/lanternfen/game';
import { Hold } from '../demo/runtime/lanternfen/hold';
import { expect, expectHeard, folderHash, helpCardBytes, helpCardKey, openEntry, test } from './fixtures';
import { unzip } from './unzip';
import { tone } from './waves';

const holdOf = (folder: string, name: string): Hold =>
  new Hold(path.join(folder, 'holds', name), helpCardBytes());

test('from a game folder to a loaded mod, and back', async ({ page, lanternfen, scratch }) => {
  const untouched = folderHash(lanternfen.folder);

  await test.step('the archives are locked; the key of the help card opens them', async () => {
    await page.goto(`/games/${lanternfen.id}/locks`);
    await expect(page.getByRole('heading', { name: '2 of 20 archives are open' })).toBeVisible();
    await expect(page.getByText('a key is needed from byte 80 on').first()).toBeVisible();
    await page.getByRole('button', { name: 'Add key' }).click();
    await page.getByLabel('Key, or a text with keys in it').fill(helpCardKey());
    await page.getByRole('button', { name: 'Add and try' }).click();
    await expect(page.getByRole('heading', { name: '20 of 20 archives are open' })).toBeVisible();
    await expect(page.getByText('opens 19 archives')).toBeVisible();
    await expect(page.locator('body')).not.toContainText(helpCardKey().replaceAll(' ', ''));
  });

  await test.step('browse: the merged tree, a picture, a sound, a text, bytes', async () => {
    await page.getByRole('link', { name: /Contents/ }).click();
    await page.getByRole('treeitem').filter({ hasText: 'actors' }).first().click();
    await expect(page.getByText('in actors/')).toBeVisible();
    await openEntry(page, lanternfen.id, 'odd/portrait_calm', 'portrait_calm.sheet');
    await expect(page.getByText('256 x 256, BC3, 9 levels, transparency')).toBeVisible();
    const inspector = page.getByLabel('Inspector');
    await expect(inspector.getByText('holds/h90-amends.hold')).toBeVisible();
    await expect(inspector.getByText('holds/h01-sheets.hold')).toBeVisible();
    await expect
      .poll(() => inspector.locator('img').evaluate((image: HTMLImageElement) => image.naturalWidth))
      .toBe(256);

    await openEntry(page, lanternfen.id, 'odd/greeting.wav', 'greeting.wav');
    await expect(page.getByText('22,050 Hz, mono, 16 bits')).toBeVisible();
    await page.getByRole('button', { name: 'Play', exact: true }).click();
    await expectHeard(page);

    await openEntry(page, lanternfen.id, 'en/ferry.lines', 'ferry.lines');
    await expect(page.getByLabel('Text', { exact: true }).getByText('It has been mended.')).toBeVisible();
    await page.getByRole('button', { name: 'Bytes' }).click();
    // "title", a tab, "The": the first bytes of the file.
    await expect(page.getByText('74 69 74 6c 65 09 54 68 65')).toBeVisible();
    await page.keyboard.press('Escape');
  });

  await test.step('extract a selection as a ZIP', async () => {
    await page.goto(`/games/${lanternfen.id}/contents?folder=${encodeURIComponent('actors/odd/')}`);
    await page.getByLabel('Pick actors/odd/portrait_calm.sheet').check();
    await page.getByLabel('Pick actors/odd/portrait_glad.sheet').check();
    await page.getByRole('region', { name: 'Picked' }).getByRole('button', { name: 'Extract' }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Download the ZIP' }).click();
    const file = path.join(scratch, 'pick.zip');
    await (await download).saveAs(file);
    const files = await unzip(file);
    expect([...files.keys()].sort()).toEqual([
      'actors/odd/portrait_calm.png',
      'actors/odd/portrait_glad.png',
    ]);
    const { width, height, hasAlpha } = await sharp(files.get('actors/odd/portrait_glad.png')).metadata();
    expect([width, height, hasAlpha]).toEqual([256, 256, true]);
  });

  await test.step('extract a selection into a folder', async () => {
    const target = path.join(scratch, 'out');
    await page.goto(`/games/${lanternfen.id}/contents?folder=${encodeURIComponent('voice/en/odd/')}`);
    await page.getByLabel('Pick voice/en/odd/fare.wav').check();
    await page.getByLabel('Pick voice/en/odd/fog.wav').check();
    await page.keyboard.press('e');
    await page.getByLabel('Folder on this machine').fill(target);
    await page.getByRole('button', { name: 'Write to the folder' }).click();
    const hold = holdOf(lanternfen.folder, 'h02-voices.hold');
    await expect.poll(() => fs.existsSync(path.join(target, 'voice/en/odd/fog.wav'))).toBe(true);
    for (const name of ['voice/en/odd/fare.wav', 'voice/en/odd/fog.wav'])
      expect(fs.readFileSync(path.join(target, name)).equals(hold.take(name)), name).toBe(true);
  });

  const red = await sharp({
    create: { width: 256, height: 256, channels: 4, background: { r: 200, g: 30, b: 40, alpha: 1 } },
  })
    .composite([
      {
        input: Buffer.from(
          '<svg width="256" height="256"><circle cx="128" cy="128" r="90" fill="#123456"/></svg>',
        ),
      },
    ])
    .png()
    .toBuffer();

  await test.step('replace a picture; the mod is made on the way', async () => {
    await openEntry(page, lanternfen.id, 'odd/portrait_calm', 'portrait_calm.sheet');
    await page
      .getByLabel('File to put in its place')
      .setInputFiles({ name: 'my-keeper.png', mimeType: 'image/png', buffer: red });
    await page.getByLabel('Name of the mod').fill('Copper Cape');
    await page.getByRole('button', { name: 'Make it' }).click();
    await expect(
      page.getByText(/portrait_calm.sheet replaced; (it fits|there is something to look at)/),
    ).toBeVisible();
  });

  await test.step('replace a sound of the wrong rate and mend it', async () => {
    await openEntry(page, lanternfen.id, 'odd/greeting.wav', 'greeting.wav');
    await page
      .getByLabel('File to put in its place')
      .setInputFiles({ name: 'hello.wav', mimeType: 'audio/wav', buffer: tone(44100, 1.2, 440, 2) });
    await expect(page.getByText(/it does not fit yet/)).toBeVisible();
    await page.goto(`/games/${lanternfen.id}/build`);
    await expect(page.getByRole('button', { name: 'Build', exact: true })).toBeDisabled();
    await page.getByRole('link', { name: /Changes/ }).click();
    await page.getByRole('option').filter({ hasText: 'greeting.wav' }).click();
    await expect(
      page.getByText('44100 Hz, 2 channels, 16 bits given, the slot has 22050 Hz, mono, 16 bits').first(),
    ).toBeVisible();
    await page.getByRole('button', { name: 'Convert to 22050 Hz, mono, 16 bits' }).click();
    await expect(page.getByText(/converted to 22050 Hz, mono/).first()).toBeVisible();
  });

  await test.step('replace a line of text in place', async () => {
    await openEntry(page, lanternfen.id, 'en/ferry.lines', 'ferry.lines');
    const editor = page.getByLabel('Text', { exact: true }).locator('.cm-content');
    await editor.getByText('It has been mended.').click();
    await page.keyboard.press('Home');
    await page.keyboard.press('Shift+End');
    await page.keyboard.press('Shift+End');
    const whole = await editor.innerText();
    expect(whole).toContain('Mind the third plank');
    await page.keyboard.press('ControlOrMeta+a');
    const table = holdOf(lanternfen.folder, 'h90-amends.hold').take('text/en/ferry.lines').toString('utf8');
    await page.keyboard.insertText(
      table.replace(/^jetty\.greeting\t.*$/m, 'jetty.greeting\tThe plank is copper now.'),
    );
    await page.getByRole('button', { name: 'Keep as a change' }).click();
    await expect(
      page.getByText(/ferry.lines replaced; (it fits|there is something to look at)/),
    ).toBeVisible();
    await page.getByRole('link', { name: /Changes/ }).click();
    // The list that is left has an option of this name too.
    await page.waitForURL('**/changes');
    await page.getByRole('option').filter({ hasText: 'ferry.lines' }).click();
    await expect(page.getByText('1 of 13 lines changed').first()).toBeVisible();
  });

  await test.step('build and read the proof', async () => {
    await page.getByRole('link', { name: 'To the build' }).click();
    await page.getByRole('button', { name: 'Build', exact: true }).click();
    const report = page.getByRole('region', { name: 'Build report' });
    await expect(report.getByText('the proof holds')).toBeVisible();
    await expect(report.getByText('holds/h90-amends.hold', { exact: true }).first()).toBeVisible();
    await expect(report.getByText('78 of 78, ', { exact: false })).toBeVisible();
    await expect(report.getByText('2 of 2 exact')).toBeVisible();
    expect(folderHash(lanternfen.folder)).toBe(untouched);
  });

  await test.step('install over kept originals', async () => {
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    await page.getByRole('link', { name: /Installed/ }).click();
    await expect(page.getByRole('heading', { name: 'Copper Cape' })).toBeVisible();
    await expect(page.getByText('original kept')).toHaveCount(2);
    expect(folderHash(lanternfen.folder)).not.toBe(untouched);
    expect(fs.readdirSync(path.join(lanternfen.folder, 'holds')).sort()).toEqual([
      'h00-core.hold',
      'h01-sheets.hold',
      'h02-voices.hold',
      'h03-weather.hold',
      'h04-wardrobe.hold',
      'h05-chest.hold',
      'h06-forms.hold',
      'h90-amends.hold',
    ]);
  });

  await test.step('the stand-in loads it and shows the new picture, line and sound', async () => {
    await page.getByRole('link', { name: 'To the trial' }).click();
    await page.getByRole('button', { name: 'Run the trial' }).first().click();
    await expect(page.getByRole('heading', { name: 'The game loads' })).toBeVisible();
    const scene = page.frameLocator('iframe');
    await expect(scene.getByText('The plank is copper now.')).toBeVisible();
    await expect
      .poll(() => scene.locator('img.figure').evaluate((image: HTMLImageElement) => image.naturalWidth))
      .toBe(256);
    await expect
      .poll(() =>
        scene
          .locator('audio')
          .first()
          .evaluate((sound: HTMLAudioElement) => sound.duration),
      )
      .toBeCloseTo(1.2, 1);

    const run = play(lanternfen.folder);
    expect(run.loaded, JSON.stringify(run.log.at(-1))).toBe(true);
    const { figure } = run.scene!;
    const texel = (x: number, y: number): number[] => [
      ...figure.rgba.subarray(4 * (y * figure.width + x), 4 * (y * figure.width + x) + 4),
    ];
    for (const [at, wanted] of [
      [texel(128, 128), [0x12, 0x34, 0x56, 255]],
      [texel(4, 4), [200, 30, 40, 255]],
    ] as const)
      at.forEach((value, c) => expect(Math.abs(value - wanted[c]!)).toBeLessThan(9));
  });

  await test.step('restore: byte for byte what it was', async () => {
    await page.getByRole('link', { name: /Installed/ }).click();
    await page.getByRole('button', { name: 'Restore the originals' }).click();
    await expect(page.getByRole('heading', { name: 'The folder holds its originals' })).toBeVisible();
    expect(folderHash(lanternfen.folder)).toBe(untouched);
  });
});
