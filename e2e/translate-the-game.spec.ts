import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { expect, filesBelow, folderHash, test } from './fixtures';
import { restoreGame } from './mod-steps';

const row = (page: Page, key: string) => page.getByRole('row').filter({ hasText: key });
const chosen = (page: Page) => page.getByRole('row', { selected: true });

/** Writes the text of the line that is chosen, by keyboard, and goes to the next. */
async function write(page: Page, text: string): Promise<void> {
  await page.keyboard.press('Enter');
  const field = page.getByRole('textbox', { name: /^Text of / });
  await expect(field).toBeFocused();
  await field.fill(text);
  await field.press('Enter');
  await expect(field).toHaveCount(0);
}

/** Takes the lines that are listed out as a file. */
async function takeOut(page: Page, form: string, file: string): Promise<void> {
  await page.getByRole('button', { name: 'Out and in' }).click();
  const dialog = page.getByRole('dialog', { name: 'Out and in as a file' });
  await dialog.getByLabel('As').click();
  await page.getByRole('option', { name: form }).click();
  const download = page.waitForEvent('download');
  await dialog.getByRole('link', { name: /^Take out/ }).click();
  await (await download).saveAs(file);
  await dialog.getByRole('button', { name: 'Close' }).click();
}

/** The string tables of a game in a language that it never had, here and elsewhere, into its folder and its menu. */
test('translate-the-game: a new language, by keyboard and as files, checked, loose in the right folder, offered by the menu', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  const untouched = folderHash(lanternfen.folder);
  await server.unlock(lanternfen);
  await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Nederlands' } });

  await test.step('all lines stand side by side, from the language of one’s choice', async () => {
    await page.goto(`/games/${lanternfen.id}/desk`);
    await expect(page.getByLabel('Lines listed')).toHaveText(/^2,291 of 2,291 lines$/);
    await page.getByLabel('From').click();
    await page.getByRole('option', { name: 'Norwegian' }).click();
    await page.getByRole('button', { name: /^ferry\.lines/ }).click();
    await expect(row(page, 'title').first()).toContainText('Nattferja');
    await page.getByLabel('From').click();
    await page.getByRole('option', { name: 'English' }).click();
    await expect(row(page, 'title').first()).toContainText('The night ferry');
  });

  await test.step('a language that the game never had, with the name that players read', async () => {
    await page.getByRole('button', { name: 'More' }).click();
    await page.getByRole('menuitem', { name: 'A language that the game never had…' }).click();
    await page.getByLabel('Language', { exact: true }).fill('Dutch');
    await page.getByLabel('Name in the list').fill('Nederlands');
    await page.getByRole('button', { name: 'Add the language' }).click();
    await expect(
      page.getByRole('columnheader', { name: 'Nederlands' }).or(page.getByText('Nederlands (new)')),
    ).toBeVisible();
    await page.getByLabel('Beside').click();
    await page.getByRole('option', { name: 'German' }).click();
    await page.getByRole('option', { name: 'Norwegian' }).click();
    await page.keyboard.press('Escape');
    await expect(row(page, 'title').first()).toContainText('Die Nachtfähre');
    await expect(row(page, 'title').first()).toContainText('Nattferja');
    await expect(row(page, 'title').first()).toContainText('nothing yet');
  });

  await test.step('lines are written by keyboard alone; what is missing is told as one types', async () => {
    await page.getByRole('grid', { name: 'Lines' }).focus();
    await page.keyboard.press('ArrowDown');
    await expect(chosen(page)).toContainText('title');
    await write(page, 'De nachtveer');
    await expect(chosen(page)).toContainText('jetty.greeting');
    await write(page, 'Pas op de derde plank.');
    await expect(chosen(page)).toContainText('jetty.fare');
    await write(page, 'Veergeld');
    await expect(row(page, 'jetty.fare').getByLabel('{coins} is missing')).toBeVisible();
    await row(page, 'jetty.fare').click();
    const line = page.getByRole('region', { name: 'Line' });
    await expect(line.getByLabel('Checks')).toContainText('{coins} is missing');
    await line.getByLabel('Nederlands').fill('Veergeld: {coins}');
    await expect(line.getByLabel('Checks')).not.toContainText('is missing');
    await line.getByLabel('Nederlands').press('Control+Enter');
    await expect(row(page, 'jetty.fare').getByLabel('done')).toBeVisible();
    await expect(page.getByText('0 failing')).toBeVisible();
  });

  await test.step('undone, done again, and there after a reload', async () => {
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(row(page, 'jetty.fare').getByLabel('{coins} is missing')).toBeVisible();
    await page.getByRole('button', { name: 'Do again' }).click();
    await expect(row(page, 'jetty.fare')).toContainText('Veergeld: {coins}');
    await page.reload();
    await expect(chosen(page)).toContainText('jetty.fare');
    await expect(page.getByText('3 changed')).toBeVisible();
  });

  const file = path.join(scratch, 'lines.csv');
  await test.step('out as CSV, translated elsewhere, and back: counted before it is taken', async () => {
    await page.getByRole('button', { name: /^talk\.sayings/ }).click();
    await page.getByLabel('Find in keys and texts').fill('jetty.odd');
    await expect(page.getByLabel('Lines listed')).toHaveText(/^36 of 2,291/);
    await takeOut(page, 'CSV', file);
    const text = fs.readFileSync(file, 'utf8');
    expect(text.slice(0, 30)).toContain('Key,English,Nederlands');
    const made = text
      .replace(
        'Have you brought the oil for Jetty?,,',
        'Have you brought the oil for Jetty?,Heb je de olie voor de steiger?,',
      )
      .replace(
        'Have you brought the eels for Jetty?,,',
        `Have you brought the eels for Jetty?,${'Heb je de palingen voor de steiger nu eindelijk meegebracht of niet?'},`,
      )
      .replace('jetty.odd.03', 'jetty.nobody.03');
    fs.writeFileSync(file, made);
    await page.getByRole('button', { name: 'Out and in' }).click();
    await page.getByLabel('File with lines').setInputFiles(file);
    const told = page.getByLabel('What it would change');
    await expect(told).toContainText('36 lines');
    await expect(told).toContainText(/Changed\s*2/);
    await expect(told).toContainText('jetty.nobody.03');
    await page.getByRole('button', { name: 'Take 2 changed lines' }).click();
    await expect(row(page, 'jetty.odd.01')).toContainText('Heb je de olie voor de steiger?');
    await expect(row(page, 'jetty.odd.02').getByLabel(/characters, at most/)).toBeVisible();
  });

  await test.step('what fails is found, and is not put in unless that is said', async () => {
    await page.getByLabel('Find in keys and texts').fill('');
    await page.getByLabel('Shown').click();
    await page.getByRole('option', { name: /^Failing, 1$/ }).click();
    await expect(page.getByLabel('Lines listed')).toHaveText(/^1 of/);
    await page.getByRole('button', { name: 'Put into the mod' }).click();
    const asked = page.getByRole('dialog', { name: /would not be shown/ });
    await expect(asked).toContainText('jetty.odd.02');
    await asked.getByRole('button', { name: 'Mend them first' }).click();
    await page.getByRole('grid', { name: 'Lines' }).focus();
    await page.keyboard.press('ArrowDown');
    await write(page, 'En de palingen?');
    await expect(page.getByText('No line is so.')).toBeVisible();
    await page.getByRole('button', { name: 'Show all lines' }).click();
  });

  await test.step('find and replace, seen before it is done', async () => {
    await page.getByRole('button', { name: 'More' }).click();
    await page.getByRole('menuitem', { name: 'Find and replace…' }).click();
    const dialog = page.getByRole('dialog', { name: 'Find and replace' });
    await dialog.getByLabel('Find', { exact: true }).fill('palingen');
    await dialog.getByLabel('Replace by').fill('alen');
    await expect(dialog).toContainText('1 line would change');
    await expect(dialog).toContainText('En de alen?');
    await dialog.getByRole('button', { name: 'Replace in 1 line' }).click();
    await page.getByLabel('Find in keys and texts').fill('alen?');
    await expect(row(page, 'jetty.odd.02')).toContainText('En de alen?');
    await page.getByLabel('Find in keys and texts').fill('');
  });

  await test.step('each form is read by a program of its own', async () => {
    await page.getByRole('button', { name: /^ferry\.lines/ }).click();
    const po = path.join(scratch, 'lines.po');
    await takeOut(page, 'PO', po);
    execFileSync('msgfmt', ['--check-header', '-o', path.join(scratch, 'lines.mo'), po]);
    expect(execFileSync('msgunfmt', [path.join(scratch, 'lines.mo')], { encoding: 'utf8' })).toContain(
      'De nachtveer',
    );
    for (const [form, ending] of [
      ['XLSX', 'xlsx'],
      ['XLIFF 1.2', 'xlf'],
      ['XLIFF 2', 'xlf'],
      ['JSON', 'json'],
    ] as const) {
      const made = path.join(scratch, `lines.${ending}`);
      await takeOut(page, form, made);
      await page.getByRole('button', { name: 'Out and in' }).click();
      await page.getByLabel('File with lines').setInputFiles(made);
      await expect(page.getByLabel('What it would change')).toContainText(/The same\s*13/);
      await page.getByRole('button', { name: 'Close' }).click();
    }
  });

  await test.step('put into the mod and built as loose files in the folder where the game looks for them', async () => {
    await page.getByRole('button', { name: 'Put into the mod' }).click();
    await expect(page.getByText(/5 lines put into the mod: 1 table changed, \d+ tables added/)).toBeVisible();
    await page.goto(`/games/${lanternfen.id}/installed`);
    await page.getByRole('button', { name: 'Edit loose files' }).click();
    await page.getByLabel('Folder in which the game looks before its archives').fill('spill');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByText('read from spill')).toBeVisible();
    await page.goto(`/games/${lanternfen.id}/build`);
    await page.getByRole('region', { name: 'Way to build' }).getByLabel('Loose files').check();
    await page.getByRole('button', { name: /^Build/ }).click();
    await expect(page.getByText('the proof holds').first()).toBeVisible();
    const before = filesBelow(lanternfen.folder);
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    const added = (): string[] => filesBelow(lanternfen.folder).filter((name) => !before.includes(name));
    await expect.poll(added).toContain('spill/text/nl/ferry.lines');
    await server.settled(lanternfen.id);
    expect(added()).toEqual(
      expect.arrayContaining(['spill/text/tongues.lines', 'spill/text/nl/talk.sayings']),
    );
  });

  await test.step('the menu of the game offers it, and speaks it', async () => {
    await page.goto(`/games/${lanternfen.id}/trial`);
    await page.getByRole('button', { name: 'Run the trial' }).first().click();
    await expect(page.getByRole('heading', { name: 'The game loads' })).toBeVisible();
    const scene = page.frameLocator('iframe');
    await expect(scene.getByRole('list', { name: 'Languages' })).toContainText('Nederlands');
    await expect(scene.getByText('Mind the third plank')).toBeVisible();
    // What was changed is not seen in English; why is said.
    await expect(
      page.getByText(
        /text\/nl\/ferry\.lines is changed and was not asked for: the game was in English, and took text\/en\/ferry\.lines/,
      ),
    ).toBeVisible();
    await page.getByLabel('In the language').click();
    await page.getByRole('option', { name: 'Nederlands' }).click();
    await expect(scene.getByText('Pas op de derde plank.')).toBeVisible();
    await expect(scene.getByText('Heb je de olie voor de steiger?')).toBeVisible();
    await expect(page.getByText('is changed and was not asked for')).toHaveCount(0);
  });

  await test.step('the folder is what it was', () => restoreGame(page, lanternfen.folder, untouched));
});

/** Two people on one table: what one writes is seen by the other, and nothing is lost. */
test('two people translate one table: each sees what the other does, and is asked where both wrote', async ({
  page,
  server,
  lanternfen,
  context,
}) => {
  await server.unlock(lanternfen);
  await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Zusammen' } });
  const address = `/games/${lanternfen.id}/desk?source=en&target=de&place=text%2Fferry.lines`;
  const other = await context.newPage();
  for (const [one, name] of [
    [page, 'Ida'],
    [other, 'Jon'],
  ] as const) {
    await one.goto(address);
    await expect(row(one, 'jetty.fare')).toBeVisible();
    await one.getByLabel('Your name').fill(name);
    await one.getByLabel('Your name').press('Enter');
  }
  await test.step('what one writes stands before the other at once', async () => {
    await row(page, 'jetty.fare').click();
    await write(page, 'Fährlohn: {coins}');
    await expect(row(other, 'jetty.fare')).toContainText('Fährlohn: {coins}');
  });
  await test.step('a text that was changed meanwhile is not written over', async () => {
    await row(other, 'title').first().dblclick();
    const field = other.getByRole('textbox', { name: 'Text of title' });
    await field.fill('Jons Fähre');
    // Whoever else looks at the line sees that somebody is at it.
    await expect(row(page, 'title').first()).toContainText('Jon writes');
    await row(page, 'title').first().click();
    await write(page, 'Idas Fähre');
    await expect(row(page, 'title').first()).toContainText('Idas Fähre');
    await field.press('Enter');
    await expect(
      other.getByText(/title was changed by .* meanwhile to “Idas Fähre”\. Yours, “Jons Fähre”, is not kept/),
    ).toBeVisible();
    await expect(row(other, 'title').first()).toContainText('Idas Fähre');
  });
  await test.step('comments and earlier texts are there for both', async () => {
    await row(page, 'title').first().click();
    await page.getByLabel('Say something of this line').fill('Too short for the sign?');
    await page.getByRole('button', { name: 'Send' }).click();
    await row(other, 'title').first().click();
    const line = other.getByRole('region', { name: 'Line' });
    await expect(line).toContainText('Too short for the sign?');
    await expect(line).toContainText('Idas Fähre');
  });
  await other.close();
});

test('a text that the program keeps is a line with its room, and a sign that the font has not is spelled otherwise', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Po polsku' } });
  await page.goto(`/games/${lanternfen.id}/desk?source=en&target=de`);
  const line = page.getByRole('region', { name: 'Line' });
  const german = line.getByLabel('German', { exact: true });

  await test.step('found by what was read in the game, and put on the desk', async () => {
    await page.getByRole('button', { name: 'More' }).click();
    await page.getByRole('menuitem', { name: 'Texts of programs…' }).click();
    const dialog = page.getByRole('dialog', { name: 'Texts of programs' });
    await dialog.getByLabel('A text of the game').fill('no ferry');
    await expect(dialog.getByRole('status')).toHaveText(/^2 texts in 2 programs/);
    await expect(dialog.getByText(/^Lanternfen\.bin at byte/)).toBeVisible();
    await dialog.getByRole('checkbox', { name: 'no ferry is due' }).first().check();
    await dialog.getByRole('button', { name: 'Put 1 on the desk' }).click();
    await expect(dialog.getByText('on the desk', { exact: true })).toBeVisible();
    await dialog.getByRole('button', { name: 'Close' }).click();
    await expect(page.getByLabel('Lines listed')).toHaveText(/^2,292 of 2,292 lines$/);
    await page.getByLabel('Find in keys and texts').fill('no ferry is due');
    await page.getByRole('row').filter({ hasText: 'no ferry is due' }).click();
    await expect(line).toContainText('63 bytes');
  });

  await test.step('too long it says by how many bytes, shorter it goes into the program', async () => {
    await german.fill(`Heute fährt ${'wirklich '.repeat(6)}keine Fähre mehr.`);
    await expect(line.getByLabel('Checks')).toContainText('bytes, at most 63');
    await german.fill('keine Fähre fällig');
    await expect(line.getByLabel('Checks')).not.toContainText('at most');
    await german.press('Control+Enter');
    await page.getByRole('button', { name: 'Put into the mod' }).click();
    await expect(page.getByText(/Lanternfen\.bin/).first()).toBeVisible();
  });

  await test.step('signs that the font has not', async () => {
    await page.goto(`/games/${lanternfen.id}/desk?source=en&target=de&text=jetty.odd.01`);
    await page.getByRole('row').filter({ hasText: 'jetty.odd.01' }).click();
    await german.fill('Hast du Öl, mój łosiu?');
    await expect(line.getByLabel('Checks')).toContainText('ó (U+00F3), ł (U+0142) is not in talk.glyphs');
    await line.getByRole('button', { name: 'Write it as Hast du Öl, moj losiu?' }).click();
    await expect(line.getByLabel('Checks')).not.toContainText('talk.glyphs');
    await expect(line.getByRole('img', { name: /odd\// }).first()).toBeVisible();
  });

  await test.step('the font itself is looked at', async () => {
    await page.goto(`/games/${lanternfen.id}/contents?kind=font`);
    await page.locator('[data-entry]').filter({ hasText: 'talk.glyphs' }).click();
    const inspector = page.getByLabel('Inspector');
    await inspector.getByLabel('A text in this font').fill('Żółw');
    await expect(inspector.getByText('The font has no Ż ó ł')).toBeVisible();
  });
});
