import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { nameHash, writeHold } from '../demo/world/hold-writer';
import { expect, helpCardKey, openEntry, test } from './fixtures';

const salt = Buffer.alloc(16, 5);
const text = (name: string, body: string | Buffer) => ({ path: name, data: () => Buffer.from(body) });

/** A film of two seconds with a tone. */
function film(scratch: string): Buffer {
  const file = path.join(scratch, 'film.webm');
  const made = spawnSync('ffmpeg', [
    ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc=size=160x96:rate=12:duration=2'],
    ...['-f', 'lavfi', '-i', 'sine=duration=2', '-c:v', 'libvpx', file],
  ]);
  expect(made.status, String(made.stderr)).toBe(0);
  return fs.readFileSync(file);
}

/** A model of one triangle with a clip, as glTF 2.0 in one file. */
function model(): Buffer {
  const document = {
    asset: { version: '2.0' },
    accessors: [{ count: 1200, componentType: 5126, type: 'VEC3' }],
    meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
    animations: [
      { channels: [], samplers: [] },
      { channels: [], samplers: [] },
    ],
  };
  const json = Buffer.from(JSON.stringify(document));
  const padded = Buffer.concat([json, Buffer.alloc(-json.length & 3, ' ')]);
  const head = Buffer.from('glTF\x02\0\0\0\0\0\0\0\0\0\0\0JSON', 'latin1');
  head.writeUInt32LE(20 + padded.length, 8);
  head.writeUInt32LE(padded.length, 12);
  return Buffer.concat([head, padded]);
}

test('each lens shows what heads tell; films play, and everything else has its bytes', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  const folder = path.join(scratch, 'heads');
  fs.mkdirSync(folder);
  const made = film(scratch);
  writeHold(
    path.join(folder, 'a.hold'),
    [
      text('films/crossing.webm', made),
      text('films/broken.webm', made.subarray(0, 40)),
      text('models/heron.glb', model()),
      text('models/cut.glb', model().subarray(0, 60)),
      text('text/tide.txt', 'High at four.\r\nLow at ten.\r\n'),
    ],
    { roll: true, rank: 1, salt },
  );
  const game = await server.addGame(folder, `Heads ${process.pid}`);
  const row = (name: string) => page.locator('[data-entry]').filter({ hasText: name });
  const lens = (title: string) => page.getByRole('tab', { name: title }).click();
  await page.goto(`/games/${game.id}/contents?kind=film`);
  for (const told of ['160 x 96', '2.0 s', '12', 'VP8'])
    await expect(row('crossing.webm')).toContainText(told);
  await row('crossing.webm').click();
  const player = page.getByLabel('Film crossing.webm');
  await expect
    .poll(() => player.evaluate((video: HTMLVideoElement) => Math.round(video.duration * 10) / 10))
    .toBe(2);
  await row('broken.webm').click();
  await lens('Models');
  await expect(row('heron.glb')).toContainText('400');
  await expect(row('heron.glb')).toContainText('1,200');
  await row('heron.glb').click();
  await expect(page.getByLabel('Inspector').locator('[data-stage]')).toBeVisible();
  await row('cut.glb').click();
  await expect(page.getByLabel('Inspector')).toContainText('chunks[0]');
  await lens('Text');
  await expect(row('tide.txt')).toContainText('utf-8 crlf');
  await expect(row('tide.txt')).toContainText('High at four. Low at ten.');

  // A part of a film, as players ask for it.
  const { rows } = (await (await server.api.get(`/api/games/${game.id}/entries?search=crossing`)).json()) as {
    rows: { archiveId: number; index: number }[];
  };
  const url = `/api/games/${game.id}/entries/${rows[0]!.archiveId}/${rows[0]!.index}/raw`;
  const part = await server.api.get(url, { headers: { range: 'bytes=10-19' } });
  expect(part.status()).toBe(206);
  expect(await part.body()).toEqual(made.subarray(10, 20));
  expect((await server.api.get(url, { headers: { range: `bytes=${made.length}-` } })).status()).toBe(416);
  expect(await (await server.api.get(url, { headers: { range: 'bytes=-4' } })).body()).toEqual(
    made.subarray(-4),
  );
  expect((await server.api.get(`/api/games/${game.id}/entries/heads?of=1`)).status()).toBe(400);

  await server.unlock(lanternfen);
  await page.goto(`/games/${lanternfen.id}/contents?kind=sound&search=title`);
  await expect(row('title.wav')).toContainText('22,050');
  await expect(row('title.wav')).toContainText('PCM-S16');
  await lens('Pictures');
  await page.getByLabel('Search the contents').fill('actors/odd coat_colour');
  await expect(row('coat_colour.sheet').first()).toContainText('256 x 256, BC');
  const thumbnail = row('coat_colour.sheet').first().getByRole('img');
  await expect.poll(() => thumbnail.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(256);
  await page.goto(`/games/${lanternfen.id}/contents?kind=film`);
  await expect(row('toll.spool')).toContainText('320 x 160');
  await page.goto(`/games/${lanternfen.id}/contents?kind=archive`);
  await expect(row('odd.hold')).toContainText('entries 2');
  await page.goto(`/games/${lanternfen.id}/locks`);
  await page.getByRole('row', { name: /opening\.spool/ }).click();
  await expect(page.getByText('seconds')).toBeVisible();
  await server.api.delete(`/api/games/${game.id}`);
});

test('namesakes are stepped through, hashes in data are references, and beginnings of names have a meaning', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'kin');
  fs.mkdirSync(folder);
  const refers = Buffer.alloc(64);
  refers.writeBigUInt64LE(nameHash('voice/de/vo_hello.txt'), 16);
  writeHold(
    path.join(folder, 'a.hold'),
    [
      ...['de', 'en', 'fr'].map((tongue) => text(`voice/${tongue}/vo_hello.txt`, `hello in ${tongue}`)),
      text('voice/en/vo_bye.txt', 'bye'),
      text('scene.dat', refers),
    ],
    { roll: true, rank: 1, salt },
  );
  const game = await server.addGame(folder, `Kin ${process.pid}`);
  await openEntry(page, game.id, 'voice/en/vo_hello', 'vo_hello.txt');
  const inspector = page.getByLabel('Inspector');
  await expect(inspector.getByRole('region', { name: 'Same name in other folders' })).toContainText(
    'voice/fr/',
  );
  await page.keyboard.press('n');
  await expect(inspector.getByText('voice/fr/', { exact: true })).toBeVisible();
  await expect(page.getByLabel('Text', { exact: true })).toContainText('hello in fr');
  await page.keyboard.press('n');
  await expect(page.getByLabel('Text', { exact: true })).toContainText('hello in de');
  await expect(inspector.getByRole('region', { name: 'Same name in other folders' })).toContainText(
    'voice/en/',
  );
  await page.keyboard.press('Shift+N');
  await expect(page.getByLabel('Text', { exact: true })).toContainText('hello in fr');

  await openEntry(page, game.id, 'scene.dat', 'scene.dat');
  const refersTo = inspector.getByRole('region', { name: 'Refers to', exact: true });
  await expect(refersTo).toContainText('vo_hello.txt');
  await expect(inspector).toContainText('1 of them by the hash of their name');

  // The other way round: who refers to it is searched for, by its path and by its hash.
  await refersTo.getByRole('button', { name: /vo_hello\.txt/ }).click();
  await page.getByRole('button', { name: 'Search who refers to it' }).click();
  await expect
    .poll(
      async () => (await server.jobs(game.id)).find(({ kind }) => kind === 'search-inside')?.result?.detail,
    )
    .toMatch(/Found 1 times in 1 entries/);

  await page.getByRole('button', { name: 'Readable names…' }).click();
  await page.getByRole('tab', { name: 'Beginnings and ends' }).click();
  await expect(page.getByText('4, such as vo_hello.txt')).toBeVisible();
  await page.getByLabel('What vo_* means').fill('spoken line');
  await page.getByLabel('What vo_* means').press('Enter');
  await expect(page.getByLabel('What vo_* means')).toHaveValue('spoken line');
  await page.keyboard.press('Escape');
  await page.getByLabel('Search the contents').fill('"spoken line" voice/en');
  await expect(page.locator('[data-entry]')).toHaveCount(2);
  await expect(page.locator('[data-entry]').first()).toContainText('spoken line');
  const wrong = await server.api.patch(`/api/games/${game.id}/affixes`, {
    data: { affix: 'a*b', meaning: 'x' },
  });
  expect(wrong.status()).toBe(422);
  await server.api.delete(`/api/games/${game.id}`);
});

test('a key for one version is not tried on another', async ({ page, server, lanternfen }) => {
  await page.goto(`/games/${lanternfen.id}/locks`);
  const add = async (version: string): Promise<void> => {
    await page.getByRole('button', { name: 'Add a key' }).first().click();
    const dialog = page.getByRole('dialog', { name: 'Add keys' });
    await dialog.getByLabel('Key, or a text with keys in it').fill(helpCardKey());
    await expect(dialog.getByText(/Files here tell:.*Peatfire 3/)).toBeVisible();
    await dialog.getByLabel('Only for version').fill(version);
    await dialog.getByRole('button', { name: 'Add and try' }).click();
    await server.settled(lanternfen.id);
  };
  await add('Peatfire 4');
  const keyring = page.getByRole('region', { name: 'Keyring' });
  await expect(keyring).toContainText('for version Peatfire 4 only');
  await expect(keyring).toContainText('opens nothing here');
  await keyring.getByRole('button', { name: /^Remove/ }).click();
  await server.settled(lanternfen.id);
  await add('Peatfire 3');
  await expect(keyring).toContainText(/opens \d+ archives/);
});
