import fs from 'node:fs';
import path from 'node:path';
import { expect, helpCardBytes, test } from './fixtures';

test('a key is found in the program, not in the launcher, proved, and opens the locked archives', async ({
  page,
  server,
  lanternfen,
}) => {
  await page.goto(`/games/${lanternfen.id}/locks`);
  const locked = page.getByRole('row', { name: /h01-sheets/ });
  await locked.click();
  await page.getByRole('button', { name: 'Find the key' }).click();
  const dialog = page.getByRole('dialog', { name: 'Find the key in a program' });
  // The large one is offered; the launcher is doubted.
  await expect(dialog.getByRole('radio', { name: /Lanternfen\.bin/ })).toBeChecked();
  const launcher = dialog.getByRole('radio', { name: /harbour-launcher\.bin.*seldom holds the key/ });
  await launcher.check();
  await dialog.getByRole('button', { name: 'Search' }).click();
  await expect(
    page.getByText(/Not in harbour-launcher\.bin: [\d,]+ candidates were held against pages\[0\]\.check/),
  ).toBeVisible();
  await expect(locked).toContainText('locked');

  await page.getByRole('button', { name: 'Find the key' }).click();
  await dialog.getByRole('radio', { name: /Lanternfen\.bin/ }).check();
  await dialog.getByRole('button', { name: 'Search' }).click();
  const program = fs.readFileSync(path.join(lanternfen.folder, 'Lanternfen.bin'));
  const place = program.indexOf(helpCardBytes());
  await expect(page.getByText(`Found at byte ${place} of Lanternfen.bin (raw)`)).toBeVisible();
  await server.settled(lanternfen.id);
  await expect(locked).toContainText('open');
  await expect(page.getByLabel('Keyring')).toContainText(`key of Lanternfen.bin (byte ${place})`);
  await expect(page.getByLabel('Keyring')).toContainText(/opens \d+ archives/);

  // The key itself is in no answer, and in no job.
  const hex = helpCardBytes().toString('hex');
  for (const address of [`/api/jobs?game=${lanternfen.id}`, `/api/games/${lanternfen.id}/keys`])
    expect(await (await server.api.get(address)).text()).not.toContain(hex.slice(8, 40));
});

test('what cannot be searched is said: an open archive, a program that has gone', async ({
  server,
  lanternfen,
}) => {
  const archives = (await (await server.api.get(`/api/games/${lanternfen.id}/archives`)).json()) as {
    id: number;
    state: string;
    sort: string;
  }[];
  const ask = async (state: string, program: string): Promise<string> => {
    const { id } = archives.find((one) => one.state === state && one.sort === 'file')!;
    await server.api.post(`/api/games/${lanternfen.id}/jobs`, {
      data: { kind: 'find-key', archiveId: id, program },
    });
    const jobs = await server.settled(lanternfen.id);
    return jobs.find(({ kind }) => kind === 'find-key')!.error!;
  };
  expect(await ask('open', 'Lanternfen.bin')).toContain('needs no key');
  expect(await ask('locked', 'gone.bin')).toContain('no longer in the game folder');
  expect(await ask('locked', '../../etc/passwd')).toContain('climbs out of its folder');
});

test('two threads share a large program, and the one that has the key ends the search', async ({
  server,
  lanternfen,
}) => {
  const large = Buffer.alloc(9 << 20, 'some code; ');
  const place = (7 << 20) + 13;
  large.fill(0, place - 64, place + 96);
  helpCardBytes().copy(large, place);
  fs.writeFileSync(path.join(lanternfen.folder, 'large.bin'), large);
  const archives = (await (await server.api.get(`/api/games/${lanternfen.id}/archives`)).json()) as {
    id: number;
    state: string;
  }[];
  const { id } = archives.find(({ state }) => state === 'locked')!;
  for (const all of [false, true]) {
    await server.api.post(`/api/games/${lanternfen.id}/jobs`, {
      data: { kind: 'find-key', archiveId: id, program: 'large.bin', all },
    });
    const jobs = await server.settled(lanternfen.id);
    expect(jobs.find(({ kind }) => kind === 'find-key')).toMatchObject({
      state: 'done',
      result: { found: [{ offset: place, spelling: 'raw', isNew: !all }] },
    });
  }
});
