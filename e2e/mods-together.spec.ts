import fs from 'node:fs';
import path from 'node:path';
import { Hold } from '../demo/runtime/lanternfen/hold';
import { expect, filesBelow, folderHash, helpCardBytes, test } from './fixtures';
import { modOf } from './mods-api';
import { unzip } from './unzip';

const HOLD = 'holds/h00-core.hold';
const GOODS = 'item,price\nrope,3\n';

test('two mods that change the same are built together, by their order or by choice, and one is taken out again', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const untouched = folderHash(lanternfen.folder);
  const goods = new Hold(path.join(lanternfen.folder, HOLD), helpCardBytes())
    .take('items/goods.csv')
    .toString();
  const [head = ''] = goods.split('\n');
  const given = GOODS.replace('item,price', head);
  await modOf(server, lanternfen, 'Thanks', { 'credits.txt': 'Thanks to all.\n', 'items/goods.csv': given });
  await modOf(server, lanternfen, 'Fame', { 'credits.txt': 'Fame to few.\n' });
  const credits = (): string =>
    new Hold(path.join(lanternfen.folder, HOLD), helpCardBytes()).take('credits.txt').toString();

  await page.goto(`/games/${lanternfen.id}/build`);
  const together = page.getByRole('region', { name: 'Built together' });
  const conflicts = page.getByRole('region', { name: 'Conflicts' });
  const build = async (): Promise<void> => {
    await page.getByRole('button', { name: /^Build/ }).click();
    await expect(page.getByText('the proof holds')).toBeVisible();
    await expect(page.getByText('older than the changes')).toHaveCount(0);
  };
  const install = async (text: string): Promise<void> => {
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    await expect.poll(credits).toBe(text);
    await server.settled(lanternfen.id);
  };

  await test.step('the lower one has its way', async () => {
    await expect(page.getByText('1 change in 1 archive')).toBeVisible();
    await expect(conflicts).toHaveCount(0);
    await together.getByLabel('Thanks', { exact: true }).click();
    await expect(together.getByLabel('Thanks', { exact: true })).toBeChecked();
    await expect(page.getByText('2 changes in 1 archive of 2 mods')).toBeVisible();
    await expect(conflicts.getByText('credits.txt')).toBeVisible();
    await expect(conflicts.getByRole('combobox')).toHaveText('By the order: Fame');
    await build();
    await expect(page.getByText('Thanks, then Fame.')).toBeVisible();
    await install('Fame to few.\n');
    expect(
      new Hold(path.join(lanternfen.folder, HOLD), helpCardBytes()).take('items/goods.csv').toString(),
    ).toBe(given);
  });

  await test.step('another order, by keyboard', async () => {
    const handle = together.getByRole('button', { name: 'Move Fame' });
    await handle.focus();
    await page.keyboard.press('Space');
    await expect(handle).toHaveAttribute('aria-pressed', 'true');
    // Keys are listened to a moment after it was picked up.
    await expect(async () => {
      await page.keyboard.press('ArrowUp');
      await expect(page.getByText('Fame, place 1 of 2.')).toBeAttached({ timeout: 1000 });
    }).toPass();
    await page.keyboard.press('Space');
    await expect(conflicts.getByRole('combobox')).toHaveText('By the order: Thanks');
    await build();
    await install('Thanks to all.\n');
  });

  await test.step('a choice goes before the order', async () => {
    await conflicts.getByRole('combobox').click();
    await page.getByRole('option', { name: 'Always Fame' }).click();
    await expect(page.getByText('older than the changes').first()).toBeVisible();
    await build();
    await install('Fame to few.\n');
  });

  await test.step('the files without the game: a folder and a ZIP with a summary', async () => {
    const target = path.join(scratch, 'given');
    const plan = page.getByRole('region', { name: 'What installing does' });
    await plan.getByRole('button', { name: 'Into a folder…' }).click();
    const dialog = page.getByRole('dialog', { name: 'Build into a folder' });
    await dialog.getByLabel('Folder').fill(target);
    await dialog.getByRole('button', { name: 'Write', exact: true }).click();
    await expect(dialog.getByText(`3 files written to ${target}`)).toBeVisible();
    expect(filesBelow(target)).toEqual([HOLD, 'zero-latch-summary.json', 'zero-latch-summary.json.sig']);
    const now = fs.readFileSync(path.join(lanternfen.folder, HOLD));
    expect(fs.readFileSync(path.join(target, HOLD)).equals(now)).toBe(true);
    await dialog.getByRole('button', { name: 'Close' }).click();
    const download = page.waitForEvent('download');
    await plan.getByRole('link', { name: 'As a ZIP' }).click();
    const file = path.join(scratch, 'build.zip');
    await (await download).saveAs(file);
    const inside = await unzip(file);
    expect([...inside.keys()].sort()).toEqual(filesBelow(target));
    expect(inside.get(HOLD)!.equals(now)).toBe(true);
    const summary = JSON.parse(inside.get('zero-latch-summary.json')!.toString()) as { mods: string[] };
    expect(summary.mods).toEqual(['Fame', 'Thanks']);
  });

  await test.step('one of them is taken out, and then all', async () => {
    await page.getByRole('link', { name: /Installed/ }).click();
    await page.getByRole('button', { name: 'Take out Fame' }).click();
    await expect.poll(credits).toBe('Thanks to all.\n');
    await expect(page.getByRole('heading', { name: 'Thanks', exact: true })).toBeVisible();
    await server.settled(lanternfen.id);
    await page.getByRole('button', { name: 'Restore the originals' }).click();
    await expect(page.getByRole('heading', { name: 'The folder holds its originals' })).toBeVisible();
    expect(folderHash(lanternfen.folder)).toBe(untouched);
  });
});

test('ways to build are compared before one is taken', async ({ page, server, lanternfen }) => {
  await server.unlock(lanternfen);
  await modOf(server, lanternfen, 'Longer', { 'credits.txt': 'A line of thanks.\n'.repeat(4000) });
  await page.goto(`/games/${lanternfen.id}/build`);
  const ways = page.getByRole('region', { name: 'Way to build' });
  await ways.getByRole('button', { name: 'Compare sizes' }).click();
  await expect(ways.getByText(/[KM]B → .* in place/)).toHaveCount(3);
  const sizes = new Map<string, number>();
  for (const [name, way] of [
    ['Changes at the end', 'appended'],
    ['Packed anew', 'packed'],
  ] as const) {
    await ways.getByRole('radio', { name: new RegExp(name) }).check();
    await page.getByRole('button', { name: /^Build/ }).click();
    await expect(page.getByRole('region', { name: 'Build report' }).getByText(`${name}.`)).toBeVisible();
    await expect(page.getByText('the proof holds')).toBeVisible();
    // The one before has the same text, so that only the job tells when it is there.
    const asked = page.waitForResponse(
      (answer) => answer.request().method() === 'POST' && answer.url().endsWith('/jobs'),
    );
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    await asked;
    await server.settled(lanternfen.id);
    const file = path.join(lanternfen.folder, HOLD);
    expect(new Hold(file, helpCardBytes()).take('credits.txt').length).toBe(72_000);
    sizes.set(way, fs.statSync(file).size);
  }
  expect(sizes.get('appended')!).toBeGreaterThan(sizes.get('packed')!);
});
