import fs from 'node:fs';
import path from 'node:path';
import { expect, openEntry, test } from './fixtures';

/** An index and two volumes, as the reference describes them; the second volume has the second entry alone. */
function writeArchive(folder: string): void {
  const names = ['one.txt', 'two.txt', 'three.txt'];
  const bodies = ['the first', 'a second one, longer', 'third'];
  const rows: Buffer[] = [];
  const volumes = ['', ''];
  bodies.forEach((body, i) => {
    const row = Buffer.alloc(11);
    row.writeUInt16LE(i % 2, 0);
    row.writeUInt32LE(8 + volumes[i % 2]!.length, 2);
    row.writeUInt32LE(body.length, 6);
    row.writeUInt8(names[i]!.length, 10);
    rows.push(row, Buffer.from(names[i]!));
    volumes[i % 2] += body;
  });
  const head = Buffer.from('VOLS\x02\0\x03\0', 'latin1');
  fs.writeFileSync(path.join(folder, 'pack.idx'), Buffer.concat([head, ...rows]));
  volumes.forEach((body, i) => {
    const volume = Buffer.alloc(8);
    volume.write('VOLD');
    volume.writeUInt32LE(8 + body.length, 4);
    fs.writeFileSync(path.join(folder, `pack_0${i + 1}.vol`), Buffer.concat([volume, Buffer.from(body)]));
  });
}

test('an archive of several files is built, installed and restored whole', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'volumes game');
  const data = path.join(folder, 'data');
  fs.mkdirSync(data, { recursive: true });
  writeArchive(data);
  const reference = fs.readFileSync('docs/script-examples.md', 'utf8');
  const [, text = ''] = /# example: volumes\n([\s\S]*?)```/.exec(reference) ?? [];
  const kept = await server.api.post('/api/scripts', { data: { text } });
  const { id: scriptId } = (await kept.json()) as { id: string };
  const files = ['pack.idx', 'pack_01.vol', 'pack_02.vol'];
  const contents = (): string[] => files.map((name) => fs.readFileSync(path.join(data, name), 'latin1'));
  const before = contents();

  // A missing volume is named, and what to do.
  fs.renameSync(path.join(data, 'pack_02.vol'), path.join(scratch, 'pack_02.vol'));
  const game = await server.addGame(folder, `Volumes ${process.pid}`);
  await page.goto(`/games/${game.id}/locks`);
  await expect(page.getByText(/pack_02\.vol/).first()).toBeVisible();
  fs.renameSync(path.join(scratch, 'pack_02.vol'), path.join(data, 'pack_02.vol'));
  await server.api.post(`/api/games/${game.id}/jobs`, { data: { kind: 'scan' } });
  await server.settled(game.id);

  await server.api.post(`/api/games/${game.id}/mods`, { data: { title: 'Volumes' } });
  await openEntry(page, game.id, 'two.txt');
  await page.getByLabel('File to put in its place').setInputFiles({
    name: 'two.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from('Another text of another length.'),
  });
  await expect(page.getByText(/two.txt replaced/)).toBeVisible();
  await page.goto(`/games/${game.id}/build`);
  await page.getByRole('button', { name: /^Build/ }).click();
  await expect(page.getByText('the proof holds').first()).toBeVisible();
  await page.getByRole('button', { name: 'Install', exact: true }).click();
  await expect
    .poll(() => fs.readFileSync(path.join(data, 'pack_02.vol'), 'latin1').slice(8))
    .toBe('Another text of another length.');
  // The index tells the new length, the volume its own, and the other volume is as it was.
  await expect.poll(() => contents()[0] === before[0]).toBe(false);
  expect(contents()[1]).toBe(before[1]);
  expect(fs.readFileSync(path.join(data, 'pack_02.vol')).readUInt32LE(4)).toBe(8 + 31);

  // Built again while installed, it starts from the kept originals.
  await page.goto(`/games/${game.id}/build`);
  await page.getByRole('button', { name: /^Build/ }).click();
  await expect(page.getByText('the proof holds').first()).toBeVisible();

  await page.goto(`/games/${game.id}/installed`);
  await page.getByRole('button', { name: 'Restore the originals' }).click();
  await expect.poll(() => contents().join() === before.join()).toBe(true);
  await server.api.delete(`/api/games/${game.id}`);
  await server.api.delete(`/api/scripts/${scriptId}`);
});
