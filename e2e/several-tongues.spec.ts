import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { expect, folderHash, test } from './fixtures';
import { restoreGame } from './mod-steps';

const counted = (text: string): Buffer => {
  const bytes = Buffer.from(text);
  return Buffer.concat([Buffer.from([bytes.length]), bytes]);
};
const number = (of: number): Buffer => Buffer.from([of & 255, of >> 8]);

/** A table of texts in which all languages of a game stand together, as the script of the documentation has it. */
const phrases = (
  tongues: readonly (readonly [code: string, number: number, name: string])[],
  rows: readonly (readonly [id: number, texts: readonly string[]])[],
): Buffer =>
  Buffer.concat([
    Buffer.from('PHRA'),
    Buffer.from([tongues.length]),
    number(rows.length),
    ...tongues.flatMap(([code, own, name]) => [
      Buffer.from(code),
      Buffer.from([own]),
      Buffer.from(`${name}\0`),
    ]),
    ...rows.flatMap(([id, texts]) => [number(id), ...texts.map(counted)]),
  ]);
const TWO = [
  ['eng', 1, 'English'],
  ['deu', 2, 'Deutsch'],
] as const;

test('a table of all languages that a script describes gets a further one, with its name in the list, and loses it again', async ({
  page,
  server,
  scratch,
}) => {
  const rows = Array.from(
    { length: 40 },
    (_, i) => [i + 1, [`Mind plank ${i + 1}.`, `Achtung, Planke ${i + 1}.`]] as const,
  );
  const was = phrases(TWO, rows);
  const folder = path.join(scratch, 'phrases');
  fs.mkdirSync(path.join(folder, 'text'), { recursive: true });
  fs.writeFileSync(path.join(folder, 'text', 'harbour.bytes'), was);
  execFileSync('zip', ['-q', '-r', 'data.zip', 'text'], { cwd: folder });
  fs.rmSync(path.join(folder, 'text'), { recursive: true });
  const script = /# example: phrases\n([\s\S]*?)```/.exec(
    fs.readFileSync('docs/media-scripts.md', 'utf8'),
  )![1]!;
  const saved = (await (await server.api.post('/api/scripts', { data: { text: script } })).json()) as {
    id: string;
  };
  const game = await server.addGame(folder, `Phrases ${process.pid}`);
  await server.api.post(`/api/games/${game.id}/mods`, { data: { title: 'Nederlands' } });
  const untouched = folderHash(folder);
  const table = (): Buffer =>
    execFileSync('unzip', ['-p', path.join(folder, 'data.zip'), 'text/harbour.bytes']);

  // No name of the file and no language in its path tells that it is a table; its script does.
  await page.goto(`/games/${game.id}/desk`);
  await expect(page.getByLabel('Lines listed')).toHaveText(/^40 of 40 lines$/);
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'A language that the game never had…' }).click();
  await page.getByLabel('Language', { exact: true }).fill('Dutch');
  await page.getByLabel('Name in the list').fill('Nederlands');
  await page.getByRole('button', { name: 'Add the language' }).click();
  const line = page.getByRole('region', { name: 'Line' });
  await page.getByRole('row').filter({ hasText: 'Mind plank 7.' }).click();
  await line.getByLabel('Nederlands').fill('Pas op voor plank 7, die is nat.');
  await line.getByLabel('Nederlands').press('Control+Enter');
  await expect(page.getByText('1 changed')).toBeVisible();
  await page.getByRole('button', { name: 'Put into the mod' }).click();
  await expect(page.getByText(/harbour\.bytes/).first()).toBeVisible();

  await page.goto(`/games/${game.id}/build`);
  await page.getByRole('button', { name: 'Build', exact: true }).click();
  await page.getByRole('button', { name: 'Install', exact: true }).click();
  await page.getByRole('link', { name: /Installed/ }).click();
  await expect(page.getByText('as installed')).toBeVisible();
  // What is not translated yet says what the first language says.
  expect(table()).toEqual(
    phrases(
      [...TWO, ['nld', 3, 'Nederlands']],
      rows.map(([id, texts]) => [id, [...texts, id === 7 ? 'Pas op voor plank 7, die is nat.' : texts[0]!]]),
    ),
  );
  await restoreGame(page, folder, untouched);
  expect(table()).toEqual(was);
  await server.api.delete(`/api/games/${game.id}`);
  await server.api.delete(`/api/scripts/${saved.id}`);
});
