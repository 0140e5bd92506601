import fs from 'node:fs';
import path from 'node:path';
import { encodeIma } from '../src/media/sound/core/adpcm';
import { expect, filesBelow, openEntry, test } from './fixtures';
import { runOf, runSoundsRecipe } from './recipe-runs';
import { readWave } from '../src/media/sound/core/audio';

const SCRIPT = `format script: 1
title: Bare codes
for: files
recognise: []
endings: ['.barecodes']
records: { nothing: { empty: bytes(0) } }
parts: { start: { type: nothing, at: 0 } }
entries: { each: '1', path: "'samples'", payload: { at: '0', size: file.size } }
sound:
  codec: "'ima-adpcm'"
  rate: '22050'
  or: [{ high first: '1' }]
`;

/** Sounds of an unknown game of which nothing tells in which of two ways they are coded. */
test('sounds that may be read in two ways are told by what they sound like, and otherwise by what one says', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'either');
  fs.mkdirSync(folder);
  const samples = Int16Array.from(
    { length: 22_050 },
    (_, i) => 12_000 * Math.sin(i / 8) * Math.sin(i / 2000),
  );
  for (const [name, isHighFirst] of [
    ['low', false],
    ['high', true],
  ] as const)
    fs.writeFileSync(
      path.join(folder, `${name}.barecodes`),
      encodeIma([samples], { channels: 1, block: 0, hasHead: false, isHighFirst, turn: 4, start: 0 }),
    );
  const kept = await server.api.post('/api/scripts', { data: { text: SCRIPT } });
  expect(kept.status(), await kept.text()).toBe(200);
  const game = await server.addGame(folder, `Either ${process.pid}`);
  const inspector = page.getByLabel('Inspector');
  const way = (text: string) => inspector.getByText(text);

  for (const name of ['low', 'high']) {
    await openEntry(page, game.id, `${name}.barecodes`);
    await expect(way(`first code in the ${name} half, the most like a sound of 2 ways`)).toBeVisible();
    await expect(page.getByText('0:00.00 of 0:01.00')).toBeVisible();
  }
  // One of them, then all alike, then as they sound again.
  await inspector.getByRole('button', { name: 'Read it otherwise' }).click();
  await page
    .getByRole('menuitem', { name: /first code in the low half/ })
    .first()
    .click();
  await expect(way('first code in the low half, as you said')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(way('first code in the high half, the most like a sound of 2 ways')).toBeVisible();
  await inspector.getByRole('button', { name: 'Read it otherwise' }).click();
  await page
    .getByRole('menuitem', { name: /first code in the high half/ })
    .last()
    .click();
  await expect(page.getByText(/^All of Bare codes: read as/)).toBeVisible();
  await openEntry(page, game.id, 'low.barecodes');
  await expect(way('first code in the high half, as you said')).toBeVisible();

  await test.step('what is taken out is read as was said', async () => {
    const target = path.join(scratch, 'out');
    await page.getByRole('button', { name: 'Read it otherwise' }).click();
    await page
      .getByRole('menuitem', { name: /first code in the low half/ })
      .first()
      .click();
    await expect(way('first code in the low half, as you said')).toBeVisible();
    await runSoundsRecipe(page, game.id, { title: 'Either way', target });
    expect((await runOf(server, game.id)).counts).toMatchObject({ written: 2, failed: 0 });
    for (const name of filesBelow(target).filter((one) => one.endsWith('.wav'))) {
      const { channels } = readWave(new Uint8Array(fs.readFileSync(path.join(target, name))));
      const far = channels[0]!.reduce(
        (most, value, i) => Math.max(most, Math.abs(value - samples[i]! / 32_768)),
        0,
      );
      expect([name, far < 0.05]).toEqual([name, true]);
    }
  });
  await server.api.delete(`/api/games/${game.id}`);
  const scripts = (await (await server.api.get('/api/scripts')).json()) as { id: string; title: string }[];
  await server.api.delete(`/api/scripts/${scripts.find(({ title }) => title === 'Bare codes')!.id}`);
});
