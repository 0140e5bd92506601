import fs from 'node:fs';
import path from 'node:path';
import { DEMO, expect, helpCardKey, test } from './fixtures';

/** The whole journey, without the look at a mesh, which has its own issue. */
test('find-the-key', async ({ page, server, scratch }) => {
  const folder = path.join(scratch, 'frost');
  fs.cpSync(path.join(DEMO, 'lanternfen-frost'), folder, { recursive: true });
  const game = await server.addGame(folder, `Frost ${process.pid}`);

  await test.step('after the update the old key fails, and how far it got is said', async () => {
    await page.goto(`/games/${game.id}/locks`);
    await expect(page.getByRole('heading', { name: '1 of 7 archives are open' })).toBeVisible();
    await page.getByRole('button', { name: 'Add key' }).click();
    await page.getByLabel('Key, or a text with keys in it').fill(helpCardKey());
    await page.getByLabel('Label').fill('help card of before');
    await page.getByRole('button', { name: 'Add and try' }).click();
    await page.getByRole('row', { name: /h10-no/ }).click();
    await expect(page.getByRole('region', { name: 'Keys tried' })).toContainText(
      /help card of before does not fit: what it opens at byte [\d,]+ does not check/,
    );
    await expect(page.getByLabel('Keyring')).toContainText('opens nothing here');
  });

  await test.step('the version is told from the files, and the launcher from the program', async () => {
    await page.getByRole('link', { name: /Folder/ }).click();
    const version = page.getByRole('region', { name: 'Version' });
    await expect(version).toContainText('Peatfire 4.0');
    await expect(version).toContainText('Lanternfen.bin at byte 8,192');
    await expect(page.getByRole('region', { name: 'To know' })).toContainText(
      'harbour-launcher.bin is a launcherIt only starts the game, whose program is Lanternfen.bin',
    );
  });

  await test.step('the real program has the key, proved against the smallest keyed hold', async () => {
    await page.getByRole('link', { name: /Locks/ }).click();
    await page.getByRole('row', { name: /h90-amends/ }).click();
    await page.getByRole('button', { name: 'Find the key' }).click();
    const dialog = page.getByRole('dialog', { name: 'Find the key in a program' });
    await expect(dialog.getByRole('radio', { name: /Lanternfen\.bin/ })).toBeChecked();
    await expect(
      dialog.getByRole('radio', { name: /harbour-launcher\.bin.*seldom holds the key/ }),
    ).toBeVisible();
    await dialog.getByRole('button', { name: 'Search' }).click();
    await expect(page.getByText(/Found at byte \d+ of Lanternfen\.bin \(raw\): it opens/)).toBeVisible();
    await server.settled(game.id);
    await expect(page.getByRole('heading', { name: '6 of 7 archives are open' })).toBeVisible();
    await expect(page.getByLabel('Keyring')).toContainText(/found in Lanternfen\.bin, byte \d+, raw/);
    // The expansion is under a key of its own, which is in its own program.
    const expansion = page.getByRole('row', { name: /h30-frostwater/ });
    await expect(expansion).toContainText('locked');
    await expansion.click();
    await page.getByRole('button', { name: 'Find the key' }).click();
    await dialog.getByRole('radio', { name: /frostwater\.bin/ }).check();
    await dialog.getByRole('button', { name: 'Search' }).click();
    await server.settled(game.id);
    await expect(page.getByRole('heading', { name: '7 of 7 archives are open' })).toBeVisible();
  });

  await test.step('a script of another version is refused in words, the right one opens it again', async () => {
    const smallest = page.getByRole('row', { name: /h90-amends/ });
    await smallest.click();
    const choice = page.getByRole('combobox', { name: 'Script of this archive' });
    await choice.click();
    await page.getByRole('option', { name: 'Hold, Peatfire 3' }).click();
    await expect(smallest).toContainText('broken');
    await choice.click();
    await page.getByRole('option', { name: 'Hold, Peatfire 4' }).click();
    await expect(smallest).toContainText('open');
  });

  await test.step('what is in it can be looked at', async () => {
    await page.getByRole('link', { name: 'Show its contents' }).click();
    await page.locator('[data-entry]').first().click();
    await expect(page.getByLabel('Inspector')).toContainText('aes-ctr');
  });
  await server.api.delete(`/api/games/${game.id}`);
});
