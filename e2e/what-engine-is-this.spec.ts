import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { DEMO, expect, openEntry, test } from './fixtures';
import { unzip } from './unzip';

const AREAS = 'screens/frames/panel_mask.sheet';
const PIECES = 'puppets/market/pieces.sheet';

test('what-engine-is-this: versions from the files, wrappers, a companion and a payload that are missing; a sound, areas in colours, parts of an atlas, models still and moving', async ({
  page,
  server,
  scratch,
  lanternfen,
}) => {
  const tallow = (name: string, change?: (bulk: string) => void): string => {
    const folder = path.join(scratch, name);
    fs.cpSync(path.join(DEMO, 'tallow-and-tide'), folder, { recursive: true });
    change?.(path.join(folder, 'stores.bulk'));
    return folder;
  };
  const folder = tallow('tallow');
  const notes = page.getByRole('region', { name: 'To know' });

  await test.step('the version is told by program, heads and texts, each with its place', async () => {
    await page.goto(`/games/${lanternfen.id}/folder`);
    const versions = page.getByRole('region', { name: 'Version' });
    await expect(versions).toContainText(/Peatfire 3/);
    await expect(versions).toContainText(/Lanternfen\.bin at byte [\d,]+: /);
    await expect(versions).toContainText(/\.hold/);
  });

  await test.step('an archive that wraps others is opened first, and says so', async () => {
    await expect(notes).toContainText('holds/h05-chest.hold has 8 archives in it');
    await expect(notes).toContainText('It was opened first, then they were');
  });

  await test.step('a companion that is missing is named; an index without its payload is marked', async () => {
    const alone = await server.addGame(
      tallow('alone', (bulk) => fs.rmSync(bulk)),
      `Alone ${process.pid}`,
    );
    await page.goto(`/games/${alone.id}/locks`);
    await page.getByRole('row', { name: /stores\.list/ }).click();
    await expect(page.getByText(/stores\.bulk/).first()).toBeVisible();
    await server.api.delete(`/api/games/${alone.id}`);
    const doc = fs.readFileSync('docs/media-scripts.md', 'utf8');
    const bank = /# example: bank\n([\s\S]*?)```/.exec(doc)![1]!;
    const kept = (await (await server.api.post('/api/scripts', { data: { text: bank } })).json()) as {
      id: string;
    };
    // A table of one take, which would lie behind the end of the file.
    const index = Buffer.from('BANK\x01\0\0\0low\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0', 'latin1');
    index.writeUInt16LE(8000, 16);
    index.writeUInt32LE(26, 18);
    index.writeUInt32LE(60_000, 22);
    fs.mkdirSync(path.join(scratch, 'hollow'));
    fs.writeFileSync(path.join(scratch, 'hollow', 'voices.dat'), index);
    const hollow = await server.addGame(path.join(scratch, 'hollow'), `Hollow ${process.pid}`);
    await page.goto(`/games/${hollow.id}/folder`);
    await expect(notes).toContainText('voices.dat is an index without its payload');
    await server.api.delete(`/api/games/${hollow.id}`);
    await server.api.delete(`/api/scripts/${kept.id}`);
  });

  const game = await server.addGame(folder, `Tallow ${process.pid}`);
  const printed = fs.readFileSync(path.join(folder, 'printed-names.txt'), 'latin1');
  const names = printed.toLowerCase().replaceAll('\\', '/');
  await server.api.post(`/api/games/${game.id}/names`, { data: { title: 'printed', text: names } });
  await server.settled(game.id);

  await test.step('in the order of kinds; a sound comes out as WAV', async () => {
    await page.goto(`/games/${game.id}/contents?sort=kind`);
    await expect.poll(() => page.locator('[data-entry]').count()).toBeGreaterThan(5);
    const sorted = await server.api.get(`/api/games/${game.id}/entries?sort=kind&limit=200`);
    const { rows } = (await sorted.json()) as { rows: { kind: string }[] };
    const runs = rows.map(({ kind }) => kind).filter((kind, i, all) => kind !== all[i - 1]);
    expect(runs).toHaveLength(new Set(runs).size);
    expect(runs.length).toBeGreaterThan(3);
    await page.getByRole('tab', { name: /Sounds/ }).click();
    // Until the sounds have come the list still shows what it showed.
    const listed = await server.api.get(`/api/games/${game.id}/entries?sort=kind&kind=sound&limit=1`);
    const first = ((await listed.json()) as { rows: { path: string }[] }).rows[0]!.path;
    const row = page.locator('[data-entry="0"]');
    await expect(row).toContainText(first.slice(first.lastIndexOf('/') + 1));
    await row.click();
    await page.getByLabel('Inspector').getByRole('button', { name: 'Extract' }).click();
    await page.getByRole('dialog').getByRole('combobox', { name: '1 sound' }).click();
    await page.getByRole('option', { name: 'as WAV', exact: true }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Download the ZIP' }).click();
    const zip = path.join(scratch, 'sound.zip');
    await (await download).saveAs(zip);
    const [[name, bytes] = ['', Buffer.alloc(0)]] = await unzip(zip);
    expect(name).toMatch(/\.wav$/);
    expect(bytes.toString('latin1', 8, 12)).toBe('WAVE');
  });

  await test.step("channels that stand for areas are seen in colours of one's choice", async () => {
    await server.unlock(lanternfen);
    await openEntry(page, lanternfen.id, AREAS, 'panel_mask.sheet');
    await page.getByRole('button', { name: /Enlarge/ }).click();
    const table = page.getByRole('dialog', { name: /light table/ });
    await expect(table.getByLabel('Areas in colours')).toBeChecked();
    const canvas = table.getByRole('img', { name: /panel_mask.sheet/ });
    const hues = async (): Promise<Buffer> =>
      sharp(await canvas.screenshot())
        .resize(64, 64, { kernel: 'nearest' })
        .removeAlpha()
        .raw()
        .toBuffer();
    const before = await hues();
    for (const channel of ['red', 'green', 'blue'])
      await table.getByLabel(channel, { exact: true }).fill('#1234ee');
    await expect.poll(async () => (await hues()).equals(before)).toBe(false);
    await page.keyboard.press('Escape');
  });

  await test.step('parts are cut from a sheet of many', async () => {
    await openEntry(page, lanternfen.id, PIECES, 'pieces.sheet');
    await page.getByRole('button', { name: 'Parts and edits' }).click();
    const dialog = page.getByRole('dialog', { name: `Parts and edits of ${PIECES}` });
    await dialog.getByLabel('Part of the name').fill('heron');
    await dialog.getByRole('button', { name: 'Pick these 7' }).click();
    const download = page.waitForEvent('download');
    await dialog.getByRole('button', { name: 'Cut out 7' }).click();
    const zip = path.join(scratch, 'parts.zip');
    await (await download).saveAs(zip);
    expect([...(await unzip(zip)).keys()].filter((name) => name.endsWith('.png'))).toHaveLength(7);
  });

  await test.step('it is listed with what it is made of, and told by its own script', async () => {
    await page.goto(`/games/${game.id}/contents?kind=model`);
    await expect(page.locator('[data-entry]')).toHaveCount(1);
    await expect(page.locator('[data-entry="0"]')).toContainText(/cog\.carving/);
    await page.goto(`/games/${game.id}/contents?search=${encodeURIComponent('triangles:>500 bones:0')}`);
    await expect(page.locator('[data-entry]')).toHaveCount(1);
    await page.locator('[data-entry="0"]').click();
    await expect(page.getByLabel('Inspector').getByText(/Carving, Tallow & Tide/)).toBeVisible();
    await page.getByRole('link', { name: 'Look at it large' }).click();
  });

  await test.step('timber by reference, the sail by its name, others by looking through the folder', async () => {
    await expect(page.getByRole('link', { name: 'cog_timber.print' })).toBeVisible();
    await page.getByRole('combobox', { name: 'Picture for sailcloth, Colour' }).click();
    await page.getByRole('option', { name: 'cog_sail.print' }).click();
    await expect(page.locator('[data-stage]')).toHaveAttribute('data-drawn', 'true');
    await expect(page.getByRole('link', { name: 'Look through the pictures of its folder' })).toHaveAttribute(
      'href',
      /kind=picture&folder=ships/,
    );
    await page.getByRole('button', { name: 'Take it out' }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('dialog').getByRole('link', { name: 'Take it out' }).click();
    const file = path.join(scratch, 'cog.glb');
    await (await download).saveAs(file);
    const said = execFileSync('assimp', ['info', file], { encoding: 'utf8' });
    expect(Number(/^Meshes:\s+(\d+)/m.exec(said)![1])).toBe(3);
    const glb = fs.readFileSync(file);
    // Timber and sail, each once, and nothing that moves.
    expect(glb.toString('latin1').split('\x89PNG').length - 1).toBe(2);
    expect(glb.includes('"animations"')).toBe(false);
  });

  const taken = async (gameId: number, entry: string, way: string | undefined): Promise<string[]> => {
    await openEntry(page, gameId, entry, path.basename(entry));
    await page.getByLabel('Inspector').getByRole('button', { name: 'Extract' }).click();
    if (way !== undefined) {
      await page.getByRole('dialog').getByRole('combobox', { name: '1 model' }).click();
      await page.getByRole('option', { name: `as ${way}` }).click();
    }
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Download the ZIP' }).click();
    const zip = path.join(scratch, 'out.zip');
    await (await download).saveAs(zip);
    return [...(await unzip(zip)).keys()];
  };
  await test.step('the still one as OBJ, the moving one as GLB', async () => {
    expect(await taken(game.id, 'ships/cog.carving', 'OBJ')).toEqual(['ships/cog.obj']);
    expect(await taken(lanternfen.id, 'creatures/bog_heron/bog_heron.form', 'GLB')).toEqual([
      'creatures/bog_heron/bog_heron.glb',
    ]);
  });
});
