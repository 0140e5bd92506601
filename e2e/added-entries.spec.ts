import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { Hold } from '../demo/runtime/lanternfen/hold';
import { expect, filesBelow, folderHash, helpCardBytes, test, type Game } from './fixtures';
import { buildMod, restoreGame } from './mod-steps';
import { change, job, modOf } from './mods-api';

const CORE = 'holds/h00-core.hold';
const holdOf = (game: Game, name = CORE): Hold => new Hold(path.join(game.folder, name), helpCardBytes());

test('entries are added to an archive and taken out of it, to the game and back', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const untouched = folderHash(lanternfen.folder);
  const mod = await modOf(server, lanternfen, 'Newcomers', {});
  const note = path.join(scratch, 'thanks.txt');
  fs.writeFileSync(note, 'Thanks to the otters.\n');
  const board = path.join(scratch, 'board.png');
  await sharp({ create: { width: 64, height: 64, channels: 4, background: '#c02040' } })
    .png()
    .toFile(board);
  const add = page.getByRole('dialog', { name: 'Add an entry' });

  await test.step('a text beside another one', async () => {
    await page.goto(`/games/${lanternfen.id}/contents?search=credits.txt`);
    await page.locator('[data-entry]').filter({ hasText: 'credits.txt' }).first().click();
    await page.getByRole('button', { name: 'More', exact: true }).click();
    await page.getByRole('menuitem', { name: 'Add an entry to its folder' }).click();
    await add.getByLabel('File to add').setInputFiles(note);
    await expect(add.getByLabel('Path in the archive')).toHaveValue('thanks.txt');
    await add.getByLabel('Path in the archive').fill('CREDITS.txt');
    await add.getByRole('button', { name: 'Add it' }).click();
    await expect(add.getByText('a path that the archive does not have yet')).toBeVisible();
    await add.getByLabel('Path in the archive').fill('extra/thanks.txt');
    await add.getByRole('button', { name: 'Add it' }).click();
    await expect(page.getByText(`thanks.txt is added to ${CORE}.`)).toBeVisible();
  });

  await test.step('a picture that is made like another one', async () => {
    await page.goto(`/games/${lanternfen.id}/contents?search=screens/title`);
    await page.locator('[data-entry]').filter({ hasText: '.sheet' }).first().click();
    await page.getByRole('button', { name: 'More', exact: true }).click();
    await page.getByRole('menuitem', { name: 'Add an entry to its folder' }).click();
    await add.getByLabel('File to add').setInputFiles(board);
    await add.getByLabel('Path in the archive').fill('screens/board.sheet');
    await expect(add.getByRole('combobox', { name: 'Stored like' })).toHaveText(/the likeliest, screens\//);
    await add.getByRole('button', { name: 'Add it' }).click();
    await expect(
      page.getByText('board.sheet is added, but does not fit yet; see Changes for the mend.'),
    ).toBeVisible();
  });

  await test.step('one is taken out, brought back and taken out again', async () => {
    await page.goto(`/games/${lanternfen.id}/contents?search=items/goods.csv`);
    await page.locator('[data-entry]').filter({ hasText: 'goods.csv' }).first().click();
    const takeOut = async (): Promise<void> => {
      await page.getByRole('button', { name: 'More', exact: true }).click();
      await page.getByRole('menuitem', { name: 'Take it out of the archive' }).click();
    };
    await takeOut();
    await page.getByRole('alert').getByRole('button', { name: 'Undo' }).click();
    const changes = async (): Promise<string[]> => {
      const mods = (await (await server.api.get(`/api/games/${lanternfen.id}/mods`)).json()) as {
        id: number;
      }[];
      const rows = await (
        await server.api.get(`/api/games/${lanternfen.id}/mods/${mods[0]!.id}/changes`)
      ).json();
      return (rows as { path: string; action: string }[]).map((row) => `${row.action} ${row.path}`).sort();
    };
    await expect.poll(changes).toEqual(['add extra/thanks.txt', 'add screens/board.sheet']);
    await takeOut();
    await expect
      .poll(changes)
      .toEqual(['add extra/thanks.txt', 'add screens/board.sheet', 'remove items/goods.csv']);
  });

  await test.step('what does not fit is mended, and all of it built, proved and installed', async () => {
    await page.goto(`/games/${lanternfen.id}/changes`);
    const list = page.getByRole('listbox', { name: 'Changes' });
    await expect(list.getByRole('option', { name: /goods\.csv/ })).toContainText('taken out');
    await list.getByRole('option', { name: /board\.sheet/ }).click();
    await page.getByRole('button', { name: /^Resize to/ }).click();
    await expect(list.getByRole('option', { name: /board\.sheet/ })).toContainText('new →');
    await buildMod(page, ['Entries taken out are gone', '1 of 1', '2 of 2 exact']);
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    await expect.poll(() => folderHash(lanternfen.folder)).not.toBe(untouched);
    await server.settled(lanternfen.id);
    const hold = holdOf(lanternfen);
    expect(hold.take('extra/thanks.txt').toString()).toBe('Thanks to the otters.\n');
    expect(hold.has('items/goods.csv')).toBe(false);
    expect(hold.take('screens/board.sheet').length).toBeGreaterThan(64);
  });

  await test.step('while it is installed entries have other numbers; a change still goes to the right one', async () => {
    await page.goto(`/games/${lanternfen.id}/contents?search=thanks.txt`);
    await expect(page.locator('[data-entry]').filter({ hasText: 'extra' })).toBeVisible();
    // It stands right behind the one that was taken out.
    await change(server, lanternfen, mod, 'credits.txt', 'Other credits.\n');
    await page.goto(`/games/${lanternfen.id}/changes`);
    await expect(page.getByRole('option').filter({ hasText: 'credits.txt' })).toBeVisible();
    await page.getByRole('link', { name: 'To the build' }).click();
    await page.getByRole('button', { name: /^Build/ }).click();
    await expect(page.getByText('2 of 2 exact')).toHaveCount(0);
    await expect(page.getByText('3 of 3 exact')).toBeVisible();
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    await expect.poll(() => holdOf(lanternfen).take('credits.txt').toString()).toBe('Other credits.\n');
    await server.settled(lanternfen.id);
    const hold = holdOf(lanternfen);
    expect(hold.take('extra/thanks.txt').toString()).toBe('Thanks to the otters.\n');
    expect(hold.has('items/goods.csv')).toBe(false);
    const added = (await (
      await server.api.get(`/api/games/${lanternfen.id}/entries?search=thanks.txt`)
    ).json()) as { rows: { archiveId: number; index: number }[] };
    const { archiveId, index } = added.rows[0]!;
    const query = `archive=${archiveId}&index=${index}&name=a.txt`;
    const refused = await server.api.put(`/api/games/${lanternfen.id}/mods/${mod}/changes?${query}`, {
      data: Buffer.from('x'),
    });
    expect(refused.status()).toBe(409);
    expect(await refused.text()).toContain('was added to');
  });

  await test.step('the folder comes back', async () => {
    await restoreGame(page, lanternfen.folder, untouched);
  });
});

test('a mod as an archive of its own and as loose files leaves all files of the game as they are', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  const untouched = folderHash(lanternfen.folder);
  const before = filesBelow(lanternfen.folder);
  const mod = await modOf(server, lanternfen, 'Quiet harbour', {});
  const scene = JSON.parse(holdOf(lanternfen).take('scenes/jetty.scene').toString()) as Record<
    string,
    string
  >;
  const [lines, line] = [scene.lines!.replace(/^text\/[a-z]+\//, 'text/en/'), scene.line!];
  const holder = filesBelow(path.join(lanternfen.folder, 'holds')).findLast((name) =>
    holdOf(lanternfen, `holds/${name}`).has(lines),
  );
  expect(holder).toBeDefined();
  const all = holdOf(lanternfen, `holds/${holder!}`).take(lines).toString();
  const hushed = all.replace(new RegExp(`^${line}\\t[^\\n\\r]*`, 'm'), `${line}\tHush, the otters sleep.`);
  expect(hushed).not.toBe(all);
  await change(server, lanternfen, mod, lines, hushed);
  const ways = page.getByRole('region', { name: 'Way to build' });
  const tryIt = async (): Promise<{ line: string; from: string }> => {
    expect(await job(server, lanternfen, { kind: 'trial' })).toMatchObject({
      state: 'done',
      result: { loaded: true },
    });
    const [trial] = (await (await server.api.get(`/api/games/${lanternfen.id}/trials`)).json()) as {
      report: { line: string; log: { what: string; from?: string }[] };
    }[];
    const { report } = trial!;
    return { line: report.line, from: report.log.find(({ what }) => what === lines)!.from! };
  };
  /** Installs what a way builds, until the folder has just this beside what it had. */
  const install = async (way: string, more: string): Promise<void> => {
    await ways.getByLabel(way).check();
    await page.getByRole('button', { name: /^Build/ }).click();
    await expect(page.getByText('the proof holds')).toBeVisible();
    await expect(page.getByText(`${way}.`, { exact: true })).toBeVisible();
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    await expect
      .poll(() => filesBelow(lanternfen.folder).filter((name) => !before.includes(name)))
      .toEqual([more]);
    await server.settled(lanternfen.id);
  };

  await test.step('an archive of its own, loaded last', async () => {
    await page.goto(`/games/${lanternfen.id}/build`);
    await ways.getByRole('button', { name: 'Compare sizes' }).click();
    // What would be refused is not offered; why stands where one looks for it.
    await ways.getByText(/^Not possible with these changes: .*Loose files/).click();
    await expect(ways.getByText('Nothing is noted of where this game looks for loose files')).toBeVisible();
    await expect(ways.getByRole('radio', { name: /Loose files/ })).toHaveCount(0);
    const patch = `holds/quiet-harbour-${holder!}`;
    await install('An archive of its own', patch);
    expect(holdOf(lanternfen, patch).count).toBe(1);
    expect(await tryIt()).toEqual({ line: 'Hush, the otters sleep.', from: path.basename(patch) });
  });

  await test.step('what is changed meanwhile is still a change of the archive that the game came with', async () => {
    // The patch answers for the path now, but it goes with the next build.
    await change(server, lanternfen, mod, lines, hushed.replace('Hush, the', 'Hush now, the'));
    const changes = (await (
      await server.api.get(`/api/games/${lanternfen.id}/mods/${mod}/changes`)
    ).json()) as { archive: string }[];
    expect(changes.map(({ archive }) => archive)).toEqual([`holds/${holder!}`]);
    await page.goto(`/games/${lanternfen.id}/build`);
    await ways.getByLabel('An archive of its own').check();
    await expect(page.getByText('older than the changes').first()).toBeVisible();
    await page.getByRole('button', { name: 'Build again', exact: true }).click();
    await expect(page.getByText('older than the changes')).toHaveCount(0);
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    await expect
      .poll(() => holdOf(lanternfen, `holds/quiet-harbour-${holder!}`).take(lines).toString())
      .toContain('Hush now');
    await server.settled(lanternfen.id);
    expect(await tryIt()).toMatchObject({ line: 'Hush now, the otters sleep.' });
    await change(server, lanternfen, mod, lines, hushed);
  });

  await test.step('loose files, once it is known where the game looks for them', async () => {
    const answer = await server.api.patch(`/api/games/${lanternfen.id}/originals`, {
      data: { looseFolder: '../outside' },
    });
    expect(answer.status()).toBe(422);
    await page.goto(`/games/${lanternfen.id}/installed`);
    await page.getByRole('button', { name: 'Edit loose files' }).click();
    await page.getByLabel('Folder in which the game looks before its archives').fill('spill');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByText('read from spill')).toBeVisible();
    await page.goto(`/games/${lanternfen.id}/build`);
    await install('Loose files', `spill/${lines}`);
    expect(await tryIt()).toEqual({ line: 'Hush, the otters sleep.', from: 'spill' });
    await page.goto(`/games/${lanternfen.id}/build`);
    await restoreGame(page, lanternfen.folder, untouched);
  });
});
