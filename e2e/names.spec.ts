import fs from 'node:fs';
import path from 'node:path';
import { writeHold } from '../demo/world/hold-writer';
import { expect, test } from './fixtures';

test('names are learnt from contents, tried by patterns, marked, shared and exported', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'nameless');
  fs.mkdirSync(folder);
  const text = (name: string, body: string) => ({ path: name, data: () => Buffer.from(body) });
  writeHold(
    path.join(folder, 'a.hold'),
    [text('scenes/jetty.json', '{"boat": "boats/small/keel.lines", "gone": "boats/none/keel.lines"}')],
    { roll: true, rank: 1, salt: Buffer.alloc(16) },
  );
  writeHold(
    path.join(folder, 'b.hold'),
    [
      text('boats/small/keel.lines', 'a keel'),
      text('boats/boat07_hull.lines', 'a hull'),
      text('boats/secret.lines', 'a secret'),
    ],
    { roll: false, rank: 2, salt: Buffer.alloc(16) },
  );
  const game = await server.addGame(folder, `Nameless ${process.pid}`);
  await page.goto(`/games/${game.id}/locks`);
  const hold = page.getByRole('row', { name: /b\.hold/ });
  await expect(hold).toContainText('0 %');
  await page.getByRole('button', { name: 'Work out names' }).click();
  await page.getByRole('button', { name: 'Learn names' }).click();
  await expect(page.getByText(/names were tried on 3 nameless entries: 1 taken/)).toBeVisible();
  await expect(hold).toContainText('33 %');
  await page.getByRole('button', { name: 'Work out names' }).click();
  await page.getByLabel('Patterns or words, one a line').fill('boats/boat{00..99}_{hull,mast}.lines');
  await page.getByRole('button', { name: 'Try them' }).click();
  await expect(page.getByText(/200 names were tried on 2 nameless entries: 1 taken/)).toBeVisible();
  await expect(hold).toContainText('66 %');
  const lists = page.getByRole('region', { name: 'Name lists' });
  await expect(lists).toContainText('learnt, names 1 entry');
  await expect(lists).toContainText('guessed, names 1 entry');
  const exported = page.waitForEvent('download');
  await lists.getByRole('link', { name: /Export guessed/ }).click();
  expect(fs.readFileSync(await (await exported).path(), 'utf8')).toBe('boats/boat07_hull.lines\n');

  await page.goto(`/games/${game.id}/contents?search=${encodeURIComponent('is:guessed')}`);
  await expect(page.locator('[data-entry]')).toHaveCount(1);
  await expect(page.locator('[data-entry]').first()).toContainText('guessed');

  // A pattern of more names than can be tried is refused, and nothing is left of it.
  await server.api.post(`/api/games/${game.id}/jobs`, {
    data: { kind: 'try-names', pattern: 'x{0..99999}{0..99999}' },
  });
  const [job] = await server.settled(game.id);
  expect(job).toMatchObject({ state: 'failed', error: expect.stringContaining('at most') });

  // Another game of the engine uses what is shared.
  const other = path.join(scratch, 'other');
  fs.mkdirSync(other);
  writeHold(path.join(other, 'c.hold'), [text('boats/small/keel.lines', 'another keel')], {
    roll: false,
    rank: 1,
    salt: Buffer.alloc(16, 1),
  });
  await page.goto(`/games/${game.id}/locks`);
  await lists.getByRole('switch').first().click();
  await expect(lists.getByRole('switch').first()).toBeChecked();
  const second = await server.addGame(other, `Other ${process.pid}`);
  await page.goto(`/games/${second.id}/locks`);
  await expect(page.getByRole('row', { name: /c\.hold/ })).toContainText('100 %');
  for (const { id } of [game, second]) await server.api.delete(`/api/games/${id}`);
});

test('lists that are none, and one of zeros, are refused or read without harm', async ({
  server,
  lanternfen,
}) => {
  const post = async (text: string) => {
    const answer = await server.api.post(`/api/games/${lanternfen.id}/names`, {
      data: { title: 'odd', text },
    });
    return { status: answer.status(), text: await answer.text() };
  };
  expect(await post('# nothing but a remark\n\n')).toMatchObject({ status: 422 });
  expect(await post(`a/b.txt\0c/d.txt\n${'\0'.repeat(1000)}\n`)).toMatchObject({ status: 200 });
  expect((await post('x'.repeat(31_000_000))).status).toBeGreaterThanOrEqual(400);
  await server.settled(lanternfen.id);
  const { kinds } = (await (await server.api.get(`/api/games/${lanternfen.id}/entries`)).json()) as {
    kinds: Record<string, number>;
  };
  expect(kinds.text).toBeGreaterThan(50);
});
