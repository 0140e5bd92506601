import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import fs from 'node:fs';
import path from 'node:path';
import { writeHold } from '../demo/world/hold-writer';
import { SCENE_WORDS } from '../demo/world/quillmoor/tables';
import { DEMO, expect, filesBelow, folderHash, test } from './fixtures';
import { addAndTakeOutSteps } from './step-lines';

/** The seed of the project lies in its program. */
function seedIn(folder: string): string {
  const program = fs.readFileSync(path.join(folder, 'quillmoor.bin'));
  const at = Math.floor(program.length * 0.61) | 7;
  return program.subarray(at, at + 4).toString('hex');
}

/** Tiles of a place are painted, one by keyboard and some by a stroke, and taken back one after the other. */
async function paintJetty(page: Page, game: number): Promise<void> {
  await page.goto(`/games/${game}/read?table=tables%2Fplaces.cbor&row=0&over=map`);
  const map = page.getByRole('application', { name: 'Map' });
  const where = page.getByRole('status', { name: 'Where one is' });
  const strokes = page.getByRole('status', { name: 'Strokes' });
  const tiles = page.getByRole('group', { name: 'Tiles' });
  await expect(map.locator('[data-drawn=whole]')).toBeVisible();
  await map.press('p');
  await tiles.getByRole('button', { name: 'water' }).click();
  await map.press('ArrowRight');
  await expect(where).toHaveText('1 across, 0 down: stone');
  await map.press(' ');
  await expect(where).toHaveText('1 across, 0 down: water');
  await tiles.getByRole('button', { name: 'planks' }).click();
  const { x, y, width, height } = (await map.boundingBox())!;
  await page.mouse.move(x + width * 0.3, y + height * 0.4);
  await page.mouse.down();
  await page.mouse.move(x + width * 0.5, y + height * 0.42, { steps: 3 });
  await page.mouse.up();
  await expect(where).toHaveText(/^\d across, 3 down: planks/);
  await expect(strokes).toHaveText('Each stroke is a step of the mod.');
  // What lies there is taken up, and painted with.
  await page.keyboard.down('Alt');
  await page.mouse.click(x + width * 0.75, y + height * 0.6);
  await page.keyboard.up('Alt');
  await expect(tiles.getByRole('button', { name: 'water' })).toHaveAttribute('aria-pressed', 'true');
  await map.press('Control+z');
  await expect(page.getByText(/^Undone: tiles of jetty: \d spots of planks\.$/)).toBeVisible();
  await map.press('Control+z');
  await expect(page.getByText('Undone: tiles of jetty: a spot of water.')).toBeVisible();
  await page.goto(`/games/${game}/read?table=tables%2Fplaces.cbor&row=0&over=map&spot=1:0`);
  await expect(where).toHaveText('1 across, 0 down: stone');
}

test('a project under a mask: its tables are read row by row along what points where, and what nothing names is told', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'quillmoor');
  fs.cpSync(path.join(DEMO, 'quillmoor'), folder, { recursive: true });
  const untouched = folderHash(folder);
  const game = await server.addGame(folder, `Quillmoor ${process.pid}`);
  const row = page.getByRole('region', { name: 'Row' });
  const grid = page.getByRole('grid', { name: 'Rows' });
  const tables = page.getByRole('navigation', { name: 'Tables' });

  await test.step('while all is masked there are no tables but the head of the project', async () => {
    await page.goto(`/games/${game.id}/read`);
    await expect(page.getByRole('heading', { name: 'project.json' })).toBeVisible();
    await expect(tables.getByRole('button')).toHaveCount(1);
  });

  await test.step('unmasked by the seed, pictures, sounds and tables are what they are', async () => {
    await server.api.post(`/api/games/${game.id}/keys`, { data: { text: seedIn(folder), label: 'seed' } });
    await server.settled(game.id);
    await page.goto(`/games/${game.id}/contents`);
    await expect(page.getByRole('tab', { name: /^Tables 10/ })).toBeVisible();
    await expect(page.getByRole('tab', { name: /^Pictures 4\d/ })).toBeVisible();
    // All at once, with how far it is, while the wall shows what comes.
    await page.getByRole('tab', { name: /^Pictures/ }).click();
    await expect
      .poll(() =>
        page
          .locator('main img')
          .evaluateAll((all) => all.filter((one) => (one as HTMLImageElement).naturalWidth > 0).length),
      )
      .toBeGreaterThan(3);
    await page.getByRole('button', { name: 'Pick all' }).click();
    await page.getByRole('button', { name: 'Extract', exact: true }).click();
    const plain = path.join(scratch, 'plain');
    await page.getByLabel(/^4\d pictures$/).click();
    await page.getByRole('option', { name: 'as they are' }).click();
    await page.getByLabel('Folder on this machine').fill(plain);
    await page.getByRole('button', { name: 'Write to the folder' }).click();
    // The press may not have come to the server yet.
    await expect
      .poll(async () => (await server.jobs(game.id)).find(({ kind }) => kind === 'extract')?.state)
      .toBe('done');
    const written = filesBelow(plain).filter((name) => name.endsWith('.png'));
    expect(written.length).toBeGreaterThanOrEqual(40);
    for (const name of written)
      expect(fs.readFileSync(path.join(plain, name)).subarray(1, 4).toString('latin1')).toBe('PNG');
    await page.keyboard.press('Escape');
    await page.getByRole('tab', { name: /^Tables/ }).click();
    await page.locator('[data-entry]').filter({ hasText: 'people.cbor' }).click();
    const inspector = page.getByLabel('Inspector');
    await expect(inspector.getByRole('table', { name: 'First rows' })).toContainText('The Reed Widow');
    await inspector.getByRole('link', { name: 'Read it' }).click();
  });

  await test.step('a row is a card whose numbers are links; back and forward', async () => {
    await expect(page.getByRole('heading', { name: 'people.cbor' })).toBeVisible();
    await grid.getByRole('gridcell', { name: 'The Reed Widow' }).click();
    await expect(row.getByRole('heading', { name: 'The Reed Widow' })).toBeVisible();
    await row
      .getByRole('button', { name: 'lamp_tower' })
      .or(row.getByRole('button', { name: 'market_raft' }))
      .first()
      .click();
    await expect(page.getByRole('heading', { name: 'places.cbor' })).toBeVisible();
    await expect(row).toContainText('reeds');
    await page.goBack();
    await expect(row.getByRole('heading', { name: 'The Reed Widow' })).toBeVisible();
    await page.reload();
    await expect(row.getByRole('heading', { name: 'The Reed Widow' })).toBeVisible();
  });

  await test.step('every place that names it, and what is called an age and is none', async () => {
    await expect(row).toContainText(/from of letters\.cbor, \d+ times/);
    await expect(row).toContainText(/who of stirs\.cbor/);
    await expect(grid.getByRole('columnheader', { name: /^age/ })).toContainText('→ letters.cbor');
  });

  await test.step('rows are found, put in order and gone through by keyboard', async () => {
    await page.getByLabel('Find in the rows').fill('ink');
    await expect(page.getByLabel('Rows listed')).toHaveText('1 of 20 rows');
    await page.getByLabel('Find in the rows').fill('');
    await grid.getByRole('button', { name: /^name/ }).click();
    await expect(grid.getByRole('columnheader', { name: /^name/ })).toHaveAttribute('aria-sort', 'ascending');
    await grid.getByRole('row').nth(1).getByRole('gridcell').first().click();
    await expect(row.getByRole('heading', { name: 'A drowned man' })).toBeVisible();
    await grid.press('ArrowDown');
    await expect(row.getByRole('heading', { name: 'An otter' })).toBeVisible();
  });

  await test.step('a row is compared with those read next, and a column is kept in sight', async () => {
    await row.getByRole('button', { name: 'Compare others with it' }).click();
    await expect(row.getByRole('button', { name: /^compared with An otter/ })).toBeVisible();
    await expect(row.locator('[data-other]')).toHaveCount(0);
    await grid.press('ArrowDown');
    await expect(row.locator('[data-other]').filter({ hasText: 'An otter: An otter' })).toHaveCount(1);
    await row.getByRole('button', { name: /^compared with An otter/ }).click();
    await expect(row.locator('[data-other]')).toHaveCount(0);
    await grid.getByRole('button', { name: 'Pin home' }).click();
    await expect(grid.getByRole('columnheader').nth(1)).toHaveText(/^home/);
    await page.reload();
    await expect(grid.getByRole('columnheader').nth(1)).toHaveText(/^home/);
    await grid.getByRole('button', { name: 'Pin home' }).click();
    await expect(grid.getByRole('columnheader').nth(1)).toHaveText(/^id/);
  });

  await test.step('where a promise is made, kept and checked: directly and through a chain of causes', async () => {
    await tables.getByRole('button', { name: /^promises\.cbor/ }).click();
    await expect(page.getByRole('heading', { name: 'promises.cbor' })).toBeVisible();
    await grid.getByRole('row').nth(1).getByRole('gridcell').first().click();
    await expect(row).toContainText(/makes of scenes\.cbor/);
    await row.getByRole('button', { name: 'What leads here' }).click();
    const chain = page.getByRole('dialog', { name: /^What leads to the last crossing/ });
    await expect(chain.getByRole('status')).toContainText(/\d+ rows, \d+ steps/);
    await expect(
      chain
        .getByRole('img', { name: /^A graph of/ })
        .or(chain.getByRole('list', { name: 'Steps' }))
        .first(),
    ).toBeVisible();
    await chain.getByLabel('Steps', { exact: true }).first().click();
    await page.getByRole('option', { name: '6' }).click();
    await expect(chain.getByRole('status')).toContainText('some go in a circle');
    await chain.getByRole('list', { name: 'Steps' }).getByRole('button').first().click();
    await expect(chain).toHaveCount(0);
    await expect(row).toBeVisible();
  });

  await test.step('the steps of a scene are read in words, with links and jumps, once somebody gives them', async () => {
    await page.getByRole('button', { name: 'Words for steps and maps' }).click();
    const dialog = page.getByRole('dialog', { name: 'Words for steps and maps' });
    await dialog.getByRole('textbox', { name: 'Words' }).fill('words for: scenes');
    await dialog.getByRole('button', { name: 'Keep the words' }).click();
    await expect(page.getByText(/a table and its field/)).toBeVisible();
    await dialog.getByRole('textbox', { name: 'Words' }).fill(SCENE_WORDS);
    await dialog.getByRole('button', { name: 'Keep the words' }).click();
    await expect(dialog.getByText('scenes.steps', { exact: true })).toBeVisible();
    await dialog.getByRole('button', { name: 'Close' }).click();
    await tables.getByRole('button', { name: /^scenes\.cbor/ }).click();
    await expect(page.getByRole('heading', { name: 'scenes.cbor' })).toBeVisible();
    await grid.getByRole('row').nth(1).getByRole('gridcell').first().click();
    const steps = row.getByRole('list', { name: 'steps in words' });
    await expect(steps.getByRole('listitem').first()).toHaveText('0Odd Marren comes to jetty.');
    await expect(steps).toContainText('Unless the last crossing is kept, on at 20.');
    await steps.getByRole('button', { name: '20', exact: true }).click();
    await expect(steps.getByRole('listitem').filter({ hasText: 'A promise is made' })).toBeFocused();
    await steps.getByRole('listitem').filter({ hasText: 'A promise is made' }).getByRole('button').click();
    await expect(row.getByRole('heading', { name: 'the last crossing' })).toBeVisible();
    await expect(row).toContainText(/steps\.makes\.promise of scenes\.cbor/);
    await expect(row).toContainText(/steps\.asks\.promise of scenes\.cbor/);
  });

  await test.step('what nothing names, with how sure that is', async () => {
    await page.getByRole('button', { name: 'What nothing names' }).click();
    const dialog = page.getByRole('dialog', { name: 'What nothing names' });
    await expect(dialog.getByRole('region', { name: 'Rows' })).toContainText(/a boat of glass/);
    await expect(dialog.getByRole('region', { name: 'Fields' })).toContainText(
      'unused of grounds.cbor: the same in every row (0)',
    );
    await dialog.getByRole('button', { name: 'Close' }).click();
  });

  await test.step('a field is said to mean nothing, and that is taken back', async () => {
    await page.getByRole('button', { name: /^What points where/ }).click();
    const dialog = page.getByRole('dialog', { name: 'What points where' });
    const link = dialog.getByText(/^age of people\.cbor/).locator('xpath=..');
    await link.getByRole('button', { name: 'It is none' }).click();
    await expect(link).toContainText('said to be none');
    await link.getByRole('button', { name: 'Take back' }).click();
    await expect(link).toContainText('found');
    await dialog.getByRole('button', { name: 'Close' }).click();
  });

  await test.step('a place is a map of its tiles with what stirs there, walked by keyboard, also outside of what is seen', async () => {
    await tables.getByRole('button', { name: /^places\.cbor/ }).click();
    await expect(page.getByRole('heading', { name: 'places.cbor' })).toBeVisible();
    await grid.getByRole('row').nth(1).getByRole('gridcell').first().click();
    await row.getByRole('button', { name: 'See it as a map' }).click();
    const map = page.getByRole('application', { name: 'Map' });
    const where = page.getByRole('status', { name: 'Where one is' });
    await expect(page.getByText('10 by 8 hexagons')).toBeVisible();
    await expect(map).toBeFocused();
    await expect(map.locator('[data-drawn=whole]')).toBeVisible();
    await expect(where).toHaveText(/^0 across, 0 down: (reeds|peat|water|planks|stone|moss)/);
    const { violations } = await new AxeBuilder({ page }).analyze();
    const serious = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical');
    expect(serious.map(({ id, nodes }) => `${id}: ${nodes[0]!.html}`)).toEqual([]);
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('ArrowDown');
    await expect(where).toContainText('1 across, 1 down');
    await expect(page).toHaveURL(/spot=1%3A1/);
    await page.reload();
    await expect(where).toContainText('1 across, 1 down');
    const side = page.getByRole('region', { name: 'The spot' });
    const outside = side
      .getByRole('list', { name: 'Things' })
      .getByRole('button', { name: /outside$/ })
      .first();
    const name = (await outside.locator('span').first().textContent())!;
    await side.getByLabel('Find a thing').fill(name);
    await side.getByLabel('Find a thing').press('Enter');
    await expect(map).toBeFocused();
    await expect(where).toContainText(`; ${name}`);
    // Enter goes to what lies there, Escape comes back, and closes.
    await page.keyboard.press('Enter');
    await expect(side.getByRole('button').first()).toBeFocused();
    await page.keyboard.press('Escape');
    await expect(map).toBeFocused();
    await page.keyboard.press('+');
    await page.keyboard.press('0');
    await page.keyboard.press('Escape');
    await expect(map).toHaveCount(0);
    await expect(row).toBeVisible();
  });

  await test.step('a cell is changed where it is read: checked, seen, told in words, undone, built under the mask', async () => {
    const mod = (await (
      await server.api.post(`/api/games/${game.id}/mods`, { data: { title: 'Moods' } })
    ).json()) as {
      id: number;
    };
    const named = 'values of: people.mood\nnames: { 0: calm, 1: wary, 2: glad, 3: cross }\n';
    await server.api.post(`/api/games/${game.id}/reading/words`, { data: { text: named } });
    await page.goto(`/games/${game.id}/read?table=tables%2Fpeople.cbor&row=0`);
    await expect(grid.getByRole('row').nth(1)).toContainText('0 calm');
    await row.getByRole('button', { name: 'Change home' }).click();
    const home = row.getByLabel('New value of home');
    await home.fill('999');
    await expect(row.getByText('999 is no row of tables/places.cbor')).toBeVisible();
    await expect(row.getByRole('button', { name: 'Write it', exact: true })).toBeDisabled();
    await home.fill('otter');
    await page.getByRole('option', { name: /otter_stair/ }).click();
    await row.getByRole('button', { name: 'Write it', exact: true }).click();
    await expect(row.getByRole('button', { name: 'otter_stair' })).toBeVisible();
    await expect(row).toContainText('in the game: 300');
    await row.getByRole('button', { name: 'Change mood' }).click();
    await row.getByLabel('New value of mood').fill('gla');
    await page.getByRole('option', { name: /glad/ }).click();
    await row.getByRole('button', { name: 'Write it', exact: true }).click();
    await expect(row).toContainText('in the game: 0');
    await page.getByRole('button', { name: 'Undo a step' }).click();
    await expect(page.getByText('Undone: mood of Odd Marren: 0 to 2.')).toBeVisible();
    await expect(row).not.toContainText('in the game: 0');
    await page.getByRole('button', { name: 'Do a step again' }).click();
    await expect(row).toContainText('in the game: 0');
    await page.getByRole('switch', { name: 'with Moods' }).click();
    await expect(page.getByRole('switch', { name: 'with Moods' })).not.toBeChecked();
    await expect(row.getByRole('button', { name: 'jetty' })).toBeVisible();
    await expect(row.getByRole('button', { name: 'Change mood' })).toHaveCount(0);
    // A row like another one comes to be, and is taken out again.
    await page.getByRole('switch', { name: 'with Moods' }).click();
    await row.getByRole('button', { name: 'Add a row like it' }).click();
    const like = page.getByRole('dialog', { name: 'A row like Odd Marren' });
    await expect(like.getByLabel('What it is called by')).toHaveValue('120');
    await like.getByRole('button', { name: 'Add it' }).click();
    await expect(page.getByLabel('Rows listed')).toHaveText('21 rows');
    await expect(page).toHaveURL(/row=20/);
    await expect(row).toContainText('Named by nothing');
    await row.getByRole('button', { name: 'Remove the row' }).click();
    await expect(page.getByLabel('Rows listed')).toHaveText('20 rows');
    await page.goto(`/games/${game.id}/read?table=tables%2Fpeople.cbor&row=0`);
    await row.getByRole('button', { name: 'Remove the row' }).click();
    const out = page.getByRole('dialog', { name: 'Remove Odd Marren?' });
    await expect(out).toContainText(/\d+ places name it, and would lead nowhere/);
    await out.getByRole('button', { name: 'Keep it' }).click();
    // A step of a scene means somebody else, chosen by name, until that is undone.
    await page.goto(`/games/${game.id}/read?table=tables%2Fscenes.cbor&row=0`);
    const inWords = row.getByRole('list', { name: 'steps in words' });
    await inWords.getByRole('button', { name: 'Change the step at 0' }).click();
    await inWords.getByLabel('to', { exact: true }).fill('999');
    await inWords.getByRole('button', { name: 'Write it', exact: true }).click();
    await expect(inWords.getByText('to: 999 is no row of tables/places.cbor')).toBeVisible();
    await inWords.getByLabel('to', { exact: true }).fill('300');
    await inWords.getByLabel('who', { exact: true }).fill('ibi');
    await page.getByRole('option', { name: /Ibis/ }).click();
    await inWords.getByRole('button', { name: 'Write it', exact: true }).click();
    await expect(inWords.getByRole('listitem').first()).toContainText('Ibis comes to jetty.');
    await page.getByRole('button', { name: 'Undo a step' }).click();
    await expect(inWords.getByRole('listitem').first()).toContainText('Odd Marren comes to jetty.');
    await addAndTakeOutSteps(page, inWords);
    await paintJetty(page, game.id);
    // A list within a row gets an item more, which is changed by itself, until both are undone.
    await page.goto(`/games/${game.id}/read?table=tables%2Frecipes.cbor&row=0`);
    const lists = row.getByRole('button', { name: /^Another like item \d$/ });
    await expect(lists.first()).toBeVisible();
    const items = await lists.count();
    await lists.first().click();
    await expect(lists).toHaveCount(items + 1);
    await row.getByRole('button', { name: 'Take item 2 out' }).first().click();
    await expect(lists).toHaveCount(items);
    await page.getByRole('button', { name: 'Undo a step' }).click();
    await expect(lists).toHaveCount(items + 1);
    await page.getByRole('button', { name: 'Undo a step' }).click();
    await expect(lists).toHaveCount(items);
    await page.goto(`/games/${game.id}/changes`);
    await page.getByText('people.cbor').first().click();
    const words = page.getByRole('region', { name: 'In words' });
    await expect(words).toContainText('2 values of people.cbor changed');
    await expect(words).toContainText('Odd Marren: mood calm (0) to glad (2)');
    await expect(words).toContainText(/Odd Marren: home jetty \(300\) to otter_stair \(313\)/);
    // Another mod that changes other values of the table is put together with it.
    const other = (await (
      await server.api.post(`/api/games/${game.id}/mods`, { data: { title: 'Ages' } })
    ).json()) as { id: number };
    const cell = { table: 'tables/people.cbor', row: 1, column: 'mood', was: '1', text: '0' };
    const given = await server.api.post(`/api/games/${game.id}/mods/${other.id}/cells`, { data: cell });
    expect(await given.json()).toMatchObject({ isWritten: true, fit: 'fits' });
    await server.api.patch(`/api/games/${game.id}/mods/${other.id}`, { data: { together: true } });
    await page.goto(`/games/${game.id}/changes`);
    await page.getByRole('button', { name: /^Mod / }).click();
    await page.getByRole('menuitem', { name: /Moods/ }).click();
    await page.goto(`/games/${game.id}/build`);
    const merged = page.getByRole('region', { name: 'Put together' });
    await expect(merged).toContainText('tables/people.cbor');
    await expect(merged).toContainText(/2 values of Moods/);
    await expect(merged).toContainText(/1 value of Ages/);
    await expect(page.getByRole('region', { name: 'Conflicts' })).toHaveCount(0);
    const built = await server.api.post(`/api/games/${game.id}/jobs`, {
      data: { kind: 'build', modId: mod.id, way: 'packed' },
    });
    expect(built.status(), await built.text()).toBe(200);
    const jobs = await server.settled(game.id);
    expect(jobs.find(({ kind }) => kind === 'build')).toMatchObject({
      state: 'done',
      result: { holds: true },
    });
  });

  await test.step('the stand-in walks, plays its scenes and keeps a promise with what was changed; it stalls at what leads nowhere', async () => {
    await page.goto(`/games/${game.id}/build`);
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    await page.getByRole('link', { name: /Installed/ }).click();
    await expect(page.getByText('original kept')).toHaveCount(1);
    await page.getByRole('link', { name: 'To the trial' }).click();
    await page.getByRole('button', { name: 'Run the trial' }).first().click();
    await expect(page.getByRole('heading', { name: 'The game loads' })).toBeVisible();
    const scene = page.frameLocator('iframe');
    await expect(scene.getByText(/^Kept: /)).toBeVisible();
    // Odd is glad now.
    await expect(scene.getByAltText('Odd Marren')).toHaveAttribute('src', 'people_odd_glad.png');
    await expect(page.getByText('walked jetty, causeway')).toBeVisible();
    const mods = (await (await server.api.get(`/api/games/${game.id}/mods`)).json()) as {
      id: number;
      title: string;
    }[];
    const moods = mods.find(({ title }) => title === 'Moods')!;
    const cell = { table: 'tables/people.cbor', row: 4, column: 'home', was: '312', text: '999' };
    const checked = await server.api.post(`/api/games/${game.id}/mods/${moods.id}/cells`, { data: cell });
    expect(await checked.json()).toMatchObject({ isWritten: false });
    const given = await server.api.post(`/api/games/${game.id}/mods/${moods.id}/cells`, {
      data: { ...cell, isDespite: true },
    });
    expect(await given.json()).toMatchObject({ isWritten: true });
    await page.goto(`/games/${game.id}/build`);
    await page.getByRole('button', { name: 'Build', exact: true }).click();
    await expect(
      page.getByRole('region', { name: 'Build report' }).getByText('the proof holds'),
    ).toBeVisible();
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    await page.goto(`/games/${game.id}/trial`);
    await server.settled(game.id);
    await page.getByRole('button', { name: 'Run the trial' }).first().click();
    await expect(page.getByRole('heading', { name: 'The game stalls' })).toBeVisible();
    await expect(page.getByText(/row 104, home: 999 is no row of places/).first()).toBeVisible();
    await page.getByRole('link', { name: /Installed/ }).click();
    await page.getByRole('button', { name: 'Restore the originals' }).click();
    await expect(page.getByRole('heading', { name: 'The folder holds its originals' })).toBeVisible();
    expect(folderHash(folder)).toBe(untouched);
  });

  await test.step('a number is found wherever it stands, and a table is taken out', async () => {
    await page.goto(`/games/${game.id}/read`);
    await page.getByRole('button', { name: 'Where is a number or text?' }).click();
    const dialog = page.getByRole('dialog', { name: 'Where is it?' });
    await dialog.getByLabel('A number or a whole text').fill('2901');
    await expect(dialog.getByRole('status')).toHaveText('2 times in 2 fields');
    await dialog.getByRole('button', { name: 'a boat of glass' }).click();
    await expect(row.getByRole('heading', { name: 'a boat of glass' })).toBeVisible();
    await page.getByRole('button', { name: 'Take out' }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('menuitem', { name: 'as JSON' }).click();
    const file = path.join(scratch, 'promises.json');
    await (await download).saveAs(file);
    expect(JSON.parse(fs.readFileSync(file, 'utf8'))).toHaveLength(50);
  });
});

test('what a table says otherwise in an archive that is hidden is told in words', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'levels');
  fs.mkdirSync(folder);
  const rows = [
    { id: 1, name: 'rope', price: 4 },
    { id: 2, name: 'ink', price: 9 },
  ];
  const hold = (name: string, rank: number, data: object): void =>
    writeHold(
      path.join(folder, name),
      [{ path: 'tables/items.json', data: () => Buffer.from(JSON.stringify(data)) }],
      { roll: true, rank, salt: Buffer.alloc(16) },
    );
  hold('h00-base.hold', 0, rows);
  hold('h10-amends.hold', 10, [rows[0], { ...rows[1], price: 12 }]);
  const game = await server.addGame(folder, `Levels ${process.pid}`);
  await page.goto(`/games/${game.id}/read`);
  await expect(page.getByRole('grid', { name: 'Rows' })).toContainText('12');
  await page.getByRole('button', { name: 'Other versions' }).click();
  const dialog = page.getByRole('dialog', { name: 'What other versions say' });
  await expect(dialog).toContainText('to what the game finds in h10-amends.hold');
  await expect(dialog).toContainText('ink: price 9 to 12');
  await dialog.getByRole('button', { name: 'Close' }).click();
  await expect(dialog).toHaveCount(0);
});
