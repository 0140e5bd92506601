import type { Locator } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { expect, folderHash, openEntry, test } from './fixtures';
import { buildMod, installMod, restoreGame, tryMod } from './mod-steps';
import { unzip } from './unzip';

const HERON = 'creatures/bog_heron/bog_heron.form';
const LANTERN = 'props/lantern/lantern.form';

/** How many hues a stage shows, and its picture. */
async function seen(stage: Locator): Promise<{ hues: number; png: Buffer }> {
  await expect(stage).toHaveAttribute('data-drawn', 'true');
  const png = await stage.screenshot();
  const { data } = await sharp(png)
    .resize(200, 140, { fit: 'fill', kernel: 'nearest' })
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const hues = new Set<number>();
  for (let i = 0; i < data.length; i += 3)
    hues.add((data[i]! >> 4) * 256 + (data[i + 1]! >> 4) * 16 + (data[i + 2]! >> 4));
  return { hues: hues.size, png };
}
const differs = async (a: Buffer, b: Buffer): Promise<boolean> => {
  const [one, other] = await Promise.all([a, b].map((png) => sharp(png).removeAlpha().raw().toBuffer()));
  return one!.reduce((count, value, i) => (Math.abs(value - other![i]!) > 24 ? count + 1 : count), 0) > 600;
};
/** What another program tells of a model. */
const told = (file: string): Record<string, number> => {
  const said = execFileSync('assimp', ['info', file], { encoding: 'utf8' });
  return Object.fromEntries(
    [...said.matchAll(/^(Vertices|Faces|Bones|Animations|Materials|Textures embed\.):\s+(\d+)/gm)].map(
      ([, name, n]) => [name!, Number(n)],
    ),
  );
};

test('creature-and-clips: the heron with its bones and the clips of another file, painted, measured, taken out for a 3D editor', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);

  await test.step("the game's own table turns codes and variants into names", async () => {
    await openEntry(page, lanternfen.id, 'items/creatures.csv', 'creatures.csv');
    await page.getByRole('button', { name: 'Readable names…' }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Read the chosen entry' }).click();
    await expect(page.getByRole('dialog').getByText(/narrowed by its variant/)).toBeVisible();
    await page.goto(
      `/games/${lanternfen.id}/contents?${new URLSearchParams({ search: 'kind:model "bog-heron"' })}`,
    );
    // The form of the base hold and the gait of the amends that answers in its place.
    await expect(page.locator('[data-entry]')).toHaveCount(2);
    await expect(page.locator('[data-entry="0"]')).toContainText(/Bog-heron.*of the deep fen/);
    await expect(page.locator('[data-entry="1"]')).toContainText(/bog_heron\.gait.*amends/);
    await page.goto(
      `/games/${lanternfen.id}/contents?${new URLSearchParams({ search: 'kind:model variant:brown' })}`,
    );
    await expect(page.locator('[data-entry]')).toHaveCount(1);
    await expect(page.locator('[data-entry="0"]')).toContainText('otter.form');
  });

  await test.step('in the inspector it is painted with what its materials name', async () => {
    await openEntry(page, lanternfen.id, HERON, 'bog_heron.form');
    const stage = page.getByLabel('Inspector').locator('[data-stage]');
    await expect.poll(async () => (await seen(stage)).hues).toBeGreaterThan(40);
    await expect(
      page.getByLabel('Inspector').getByText(/13,516 triangles, 8,050 vertices, 6 meshes/),
    ).toBeVisible();
    await page.getByRole('link', { name: 'Look at it large' }).click();
  });

  const stage = page.locator('[data-stage]');
  await test.step('large: parts are left out, and what is drawn changes', async () => {
    await expect(page.getByText(/38 bones, .* a unit is 1\.0 cm/)).toBeVisible();
    await expect.poll(async () => (await seen(stage)).hues).toBeGreaterThan(40);
    const whole = (await seen(stage)).png;
    await page.getByRole('checkbox', { name: 'heron_body' }).uncheck();
    await expect.poll(async () => differs(whole, (await seen(stage)).png)).toBe(true);
    await page.getByRole('button', { name: 'Show all' }).click();
    await expect(page.getByRole('checkbox', { name: 'heron_body' })).toBeChecked();
    await page.getByRole('button', { name: 'Show none' }).click();
    await expect.poll(async () => (await seen(stage)).hues).toBeLessThan(20);
    await page.getByRole('button', { name: 'Show all' }).click();
    await expect(page.getByRole('link', { name: 'plumage_colour.sheet' }).first()).toBeVisible();
    await stage.focus();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('ArrowRight');
    await expect.poll(async () => differs(whole, (await seen(stage)).png)).toBe(true);
  });

  await test.step('its grey maps are seen as the game packs them, and its coordinates over a picture', async () => {
    const surface = page.getByRole('combobox', { name: 'Surface' });
    const painted = (await seen(stage)).png;
    await surface.click();
    await page.getByRole('option', { name: 'With grey maps' }).click();
    const rough = (await seen(stage)).png;
    await page.getByRole('combobox', { name: 'Green is' }).click();
    await page.getByRole('option', { name: 'how much metal' }).click();
    await expect.poll(async () => differs(rough, (await seen(stage)).png)).toBe(true);
    const metal = (await seen(stage)).png;
    await page.getByRole('checkbox', { name: 'turned over' }).check();
    await expect.poll(async () => differs(metal, (await seen(stage)).png)).toBe(true);
    await page.getByRole('combobox', { name: 'Green is' }).click();
    await page.getByRole('option', { name: 'left out' }).click();
    await surface.click();
    await page.getByRole('option', { name: 'Painted' }).click();
    await expect.poll(async () => differs(painted, (await seen(stage)).png)).toBe(false);
    await page.getByRole('combobox', { name: 'Background' }).click();
    await page.getByRole('option', { name: 'black' }).click();
    await expect.poll(async () => differs(painted, (await seen(stage)).png)).toBe(true);
    await page.getByRole('combobox', { name: 'Background' }).click();
    await page.getByRole('option', { name: 'as the page' }).click();
    await expect.poll(async () => differs(painted, (await seen(stage)).png)).toBe(false);
    await page.getByRole('button', { name: 'Coordinates over it' }).first().click();
    const flat = page.getByRole('dialog', { name: 'Coordinates over plumage_colour.sheet' });
    await expect(flat.getByRole('status')).toContainText(/[\d,]+ triangles of heron_body, /);
    await expect.poll(async () => (await seen(flat.locator('[data-stage]'))).hues).toBeGreaterThan(20);
    const whole = (await seen(flat.locator('[data-stage]'))).png;
    await flat.locator('[data-stage]').focus();
    await page.keyboard.press('+');
    await expect.poll(async () => differs(whole, (await seen(flat.locator('[data-stage]'))).png)).toBe(true);
    await flat.getByRole('button', { name: 'Close' }).click();
  });

  await test.step('the clips of its gait play on it, in their groups, frame by frame', async () => {
    await page.getByLabel('File whose clips are played').locator('..').click();
    await page.getByRole('option', { name: 'bog_heron.gait' }).first().click();
    await page.getByLabel('Clip', { exact: true }).locator('..').click();
    await expect(page.getByRole('listbox').getByText('fight')).toBeVisible();
    await page.getByRole('option', { name: 'strike' }).click();
    const still = (await seen(stage)).png;
    await page.getByRole('slider', { name: 'Place in the clip' }).focus();
    for (let i = 0; i < 14; i++) await page.keyboard.press('ArrowRight');
    await expect(page.getByText(/^frame 14, /)).toBeVisible();
    await expect.poll(async () => differs(still, (await seen(stage)).png)).toBe(true);
    await page.getByRole('button', { name: 'Frame behind' }).click();
    await expect(page.getByText(/^frame 15, /)).toBeVisible();
    await page.getByRole('button', { name: 'Play the clip' }).click();
    await expect(page.getByText(/^frame 15, /)).toBeHidden();
    await page.getByRole('button', { name: 'Pause the clip' }).click();
    // The address brings both back.
    await page.reload();
    await expect(page.getByLabel('Clip', { exact: true })).toBeAttached();
  });

  await test.step('the weights of a bone are seen, and how many vertices it moves', async () => {
    await page.getByRole('combobox', { name: 'One of 38 bones' }).fill('crest_2');
    await page.getByRole('option', { name: 'crest_2' }).click();
    await expect(page.getByText(/^Moves \d+ vertices, hangs on crest_1$/)).toBeVisible();
    await expect(page.getByRole('combobox', { name: 'Surface' })).toHaveText('Weights of a bone');
  });

  await test.step('taken out as GLB with its pictures; another program sees the same', async () => {
    await openEntry(page, lanternfen.id, HERON, 'bog_heron.form');
    await page.getByLabel('Inspector').getByRole('button', { name: 'Extract' }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Download the ZIP' }).click();
    const zip = path.join(scratch, 'heron.zip');
    await (await download).saveAs(zip);
    const [[name, glb]] = [...(await unzip(zip))] as [[string, Buffer]];
    expect(name).toBe('creatures/bog_heron/bog_heron.glb');
    fs.writeFileSync(path.join(scratch, 'heron.glb'), glb);
    expect(told(path.join(scratch, 'heron.glb'))).toMatchObject({ Faces: 16572 });
    expect(glb.toString('latin1').split('\x89PNG').length - 1).toBe(5);
  });

  await test.step('as chosen: no scars, two clips of the gait with fewer keys, grey maps where a 3D editor has them', async () => {
    await page.goto(`/games/${lanternfen.id}/contents?${new URLSearchParams({ search: HERON })}`);
    await openEntry(page, lanternfen.id, HERON, 'bog_heron.form');
    await page.getByRole('link', { name: 'Look at it large' }).click();
    await page.getByLabel('File whose clips are played').locator('..').click();
    await page.getByRole('option', { name: 'bog_heron.gait' }).first().click();
    await expect(page.getByLabel('Clip', { exact: true })).toBeAttached();
    await page.getByRole('button', { name: 'Take it out' }).click();
    const dialog = page.getByRole('dialog');
    const comesTo = dialog.getByRole('status', { name: 'What that comes to' });
    await expect(comesTo).toHaveText(/6 parts, .*5 materials6 clips, [\d,]+ keys$/);
    await dialog
      .getByRole('group', { name: 'Materials' })
      .getByRole('checkbox', { name: 'damage' })
      .uncheck();
    const clips = dialog.getByRole('group', { name: 'Clips' });
    for (const name of ['idle', 'preen', 'turn_left', 'turn_right'])
      await clips.getByRole('checkbox', { name }).click();
    await expect(comesTo).toHaveText(/2 clips, /);
    await dialog.getByRole('checkbox', { name: 'Leave out keys that others make up for' }).check();
    await dialog.getByRole('combobox', { name: 'Red is' }).click();
    await page.getByRole('option', { name: 'how rough' }).click();
    await dialog.getByRole('combobox', { name: 'Green is' }).click();
    await page.getByRole('option', { name: 'how much light comes in' }).click();
    await dialog.getByRole('checkbox', { name: 'turned over' }).nth(1).check();
    await expect(comesTo).toHaveText(/[\d,]+ of [\d,]+ keys, at most [\d.]+ mm and [\d.]+° off/);
    await expect(comesTo).toHaveText(/4 materials/);
    const download = page.waitForEvent('download');
    await dialog.getByRole('link', { name: 'Take it out' }).click();
    const file = path.join(scratch, 'chosen.glb');
    await (await download).saveAs(file);
    const bytes = fs.readFileSync(file);
    const json = JSON.parse(bytes.subarray(20, 20 + bytes.readUInt32LE(12)).toString()) as {
      materials: { name: string; occlusionTexture?: { index: number }; pbrMetallicRoughness?: object }[];
      animations: { name: string }[];
    };
    expect(json.materials.map(({ name }) => name)).not.toContain('damage');
    const plumage = json.materials.find(({ name }) => name === 'plumage')!;
    expect(plumage.occlusionTexture).toBeDefined();
    expect(plumage.pbrMetallicRoughness).toHaveProperty('metallicRoughnessTexture');
    expect(told(file).Animations).toBe(json.animations.length);
    expect(json.animations.map(({ name }) => name)).toEqual(['walk', 'strike']);
    // What the channels are is kept for the game.
    await page.reload();
    await page.getByRole('button', { name: 'Take it out' }).click();
    await expect(page.getByRole('combobox', { name: 'Red is' })).toHaveText('how rough');
  });
});

test('a lantern that was made taller goes back into its slot, is built, tried and taken back', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const untouched = folderHash(lanternfen.folder);
  await openEntry(page, lanternfen.id, LANTERN, 'lantern.form');
  await page.getByLabel('Inspector').getByRole('button', { name: 'Extract' }).click();
  await page.getByRole('combobox', { name: '1 model' }).click();
  await page.getByRole('option', { name: 'as OBJ' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download the ZIP' }).click();
  const zip = path.join(scratch, 'lantern.zip');
  await (await download).saveAs(zip);
  const obj = [...(await unzip(zip)).values()][0]!.toString();
  const taller = obj.replace(
    /^v (\S+) (\S+) (\S+)$/gm,
    (_line, x: string, y: string, z: string) => `v ${x} ${Number(y) * 1.3} ${z}`,
  );

  await test.step('what is no model is refused; one of a hundred times the size is pointed out', async () => {
    const give = (name: string, text: string): Promise<void> =>
      page
        .getByLabel('File to put in its place')
        .setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });
    await give(
      'lantern.obj',
      taller.replace(
        /^v .*$/gm,
        (line) =>
          `v ${line
            .split(' ')
            .slice(1)
            .map((n) => Number(n) * 100)
            .join(' ')}`,
      ),
    );
    await page.getByLabel('Name of the mod').fill('Tall lantern');
    await page.getByRole('button', { name: 'Make it' }).click();
    await expect(page.getByText(/lantern.form replaced; there is something to look at/)).toBeVisible();
    await page.goto(`/games/${lanternfen.id}/changes`);
    await expect(page.getByText('100 times larger than the original').first()).toBeVisible();
    await page.getByRole('button', { name: 'Make it smaller by that' }).click();
    await expect(page.getByText('made 0.0100 times as large').first()).toBeVisible();
    await expect(page.getByText(/^lantern_glass: 100 vertices/).first()).toBeVisible();
    await expect(page.locator('[data-stage]')).toHaveCount(2);
    await expect(page.locator('[data-stage][data-drawn]')).toHaveCount(2);
    await openEntry(page, lanternfen.id, LANTERN, 'lantern.form');
    await give('note.txt', 'no model at all');
    await expect(page.getByText(/note\.txt is no model that can be read here/)).toBeVisible();
  });

  await page.goto(`/games/${lanternfen.id}/changes`);
  await buildMod(page, ['1 of 1 exact']);
  await installMod(page, 1);
  await tryMod(page, { lamp: 288, creature: 288 });
  await restoreGame(page, lanternfen.folder, untouched);
});
