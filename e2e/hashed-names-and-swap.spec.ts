import fs from 'node:fs';
import path from 'node:path';
import { play } from '../demo/runtime/lanternfen/game';
import { Hold } from '../demo/runtime/lanternfen/hold';
import { DEMO, expect, filesBelow, folderHash, helpCardBytes, test } from './fixtures';
import { buildMod, installMod, restoreGame, tryMod } from './mod-steps';

const storm = (name: string): string => `wardrobe/odd/storm${name}`;
const feast = (name: string): string => `wardrobe/odd/feast${name}`;

test('hashed-names-and-swap: names for a hold that has none, three entries out, one outfit for another', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const untouched = folderHash(lanternfen.folder);
  const wardrobe = (): Hold =>
    new Hold(path.join(lanternfen.folder, 'holds', 'h04-wardrobe.hold'), helpCardBytes());
  const names = fs.readFileSync(path.join(DEMO, 'lanternfen-wardrobe-names.txt'), 'utf8');

  await test.step('a name list is loaded and its coverage said', async () => {
    await page.goto(`/games/${lanternfen.id}/locks`);
    const row = page.getByRole('row', { name: /h04-wardrobe/ });
    await expect(row).toContainText('120 %');
    await page.getByRole('button', { name: 'Add a name list' }).click();
    await page.getByLabel('Paths, one a line').fill(names);
    await page.getByRole('button', { name: 'Load', exact: true }).click();
    await expect(row).toContainText(/6[67] %/);
  });

  await test.step('three entries are ticked, and only those taken', async () => {
    const target = path.join(scratch, 'storm');
    await page.goto(`/games/${lanternfen.id}/contents?folder=${encodeURIComponent('wardrobe/odd/')}`);
    for (const name of ['.form', '_colour.sheet', '_mask.sheet'])
      await page.getByLabel(`Pick ${storm(name)}`).check();
    await page.getByRole('region', { name: 'Picked' }).getByRole('button', { name: 'Extract' }).click();
    for (const some of ['2 pictures', '1 model']) {
      await page.getByLabel(some).click();
      await page.getByRole('option', { name: 'as they are' }).click();
    }
    await page.getByLabel('Folder on this machine').fill(target);
    await page.getByRole('button', { name: 'Write to the folder' }).click();
    await expect
      .poll(async () => (await server.jobs(lanternfen.id)).some(({ kind }) => kind === 'extract'))
      .toBe(true);
    await server.settled(lanternfen.id);
    const taken = ['.form', '_colour.sheet', '_mask.sheet'].map(storm);
    expect(filesBelow(target)).toEqual([...taken, 'zero-latch-log.tsv'].sort());
    for (const name of taken)
      expect(fs.readFileSync(path.join(target, name)).equals(wardrobe().take(name))).toBe(true);
  });

  const feastBytes = ['.form', '_colour.sheet', '_mask.sheet'].map((name) => wardrobe().take(feast(name)));
  const glow = wardrobe().take(storm('_glow.sheet'));

  await test.step('one outfit is swapped for the other; what has no counterpart is listed', async () => {
    await page.goto(`/games/${lanternfen.id}/changes`);
    await page.getByRole('button', { name: 'New mod' }).first().click();
    await page.getByLabel('Name of the mod').fill('Feast in the storm');
    await page.getByRole('button', { name: 'Make it' }).click();
    await page.getByRole('button', { name: 'Swap a set' }).click();
    await page.getByLabel('In the place of what begins with').fill('wardrobe/odd/storm');
    await page.getByLabel('Take what begins with').fill('wardrobe/odd/feast');
    const pairs = page.getByRole('list', { name: 'Pairs of the swap' });
    await expect(pairs.getByRole('listitem').filter({ hasText: 'no counterpart' })).toContainText(
      storm('_glow.sheet'),
    );
    await expect(pairs.getByRole('listitem').filter({ hasText: 'no place' })).toContainText(
      feast('_hem.sheet'),
    );
    await page.getByRole('button', { name: 'Take over 3' }).click();
    const changes = page.getByRole('listbox', { name: 'Changes' });
    await expect(changes.getByRole('option')).toHaveCount(3);
    // One step, however many entries.
    await page.getByRole('button', { name: 'Undo a step' }).click();
    await expect(page.getByRole('heading', { name: 'Nothing changed yet' })).toBeVisible();
    await page.getByRole('button', { name: 'Do a step again' }).click();
    await expect(changes.getByRole('option')).toHaveCount(3);
    await changes.getByRole('option').filter({ hasText: 'storm_colour.sheet' }).click();
    await expect(page.getByText('storm_glow.sheet is left as it is')).toBeVisible();
    await expect(page.getByText('BC1, 128 x 128, 8 levels, taken as given').first()).toBeVisible();
  });

  await test.step('built, installed and tried: the storm wears the feast', async () => {
    await buildMod(page, ['3 of 3 exact']);
    await installMod(page, 1);
    await tryMod(page, { outfit: 128 });
    const after = ['.form', '_colour.sheet', '_mask.sheet'].map((name) => wardrobe().take(storm(name)));
    after.forEach((bytes, i) => expect(bytes.equals(feastBytes[i]!)).toBe(true));
    expect(wardrobe().take(storm('_glow.sheet')).equals(glow)).toBe(true);
    const { outfit } = play(lanternfen.folder).scene!.more;
    [0x7a, 0x2f, 0x3a].forEach((value, c) =>
      expect(Math.abs(outfit!.rgba[4 * 70 + c]! - value)).toBeLessThan(12),
    );
  });

  await test.step('restored byte for byte', async () => {
    await restoreGame(page, lanternfen.folder, untouched);
  });
});
