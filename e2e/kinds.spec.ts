import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { expect, filesBelow, openEntry, test, type Server } from './fixtures';

interface Row {
  readonly path: string;
  readonly kind: string;
}
const kindsOf = async (server: Server, game: number): Promise<Record<string, string>> => {
  const answer = await server.api.get(`/api/games/${game}/entries?limit=200`);
  const { rows } = (await answer.json()) as { rows: Row[] };
  return Object.fromEntries(rows.map(({ path: name, kind }) => [name, kind]));
};

/** An unknown game: an archive and loose files, whose names say nothing, or what is not so. */
async function unknownGame(scratch: string): Promise<string> {
  const folder = path.join(scratch, 'unknown kinds');
  const inner = path.join(scratch, 'inner');
  for (const one of [folder, inner]) fs.mkdirSync(one, { recursive: true });
  const png = await sharp({ create: { width: 24, height: 16, channels: 4, background: '#306090' } })
    .png()
    .toBuffer();
  fs.writeFileSync(path.join(inner, 'skin.dat'), png);
  fs.writeFileSync(path.join(inner, 'README'), 'Read me before you row.\n'.repeat(20));
  fs.writeFileSync(path.join(inner, 'water.fx'), 'void main() { colour = vec4(1.0); }\n'.repeat(20));
  fs.writeFileSync(
    path.join(inner, 'noise.png'),
    Buffer.from(Array.from({ length: 900 }, (_, i) => (i * i * 37) >> 3)),
  );
  fs.writeFileSync(path.join(inner, 'table.dat'), Buffer.from(new Float32Array(90).fill(0.37).buffer));
  const run = (command: string, ...args: string[]): string =>
    execFileSync(command, args, { cwd: inner, encoding: 'utf8' });
  run('ffmpeg', '-v', 'error', '-f', 'lavfi', '-i', 'sine=d=0.3', '-f', 'wav', 'call.bin');
  run('zip', '-qr', path.join(folder, 'all.pak'), '.');
  fs.copyFileSync(path.join(inner, 'call.bin'), path.join(folder, 'loose_call'));
  return folder;
}

test("an unknown game's files are what they are, in lists, on the wall, in the inspector and in recipes", async ({
  page,
  server,
  scratch,
}) => {
  const game = await server.addGame(await unknownGame(scratch), `Kinds ${process.pid}`);
  expect(await kindsOf(server, game.id)).toEqual({
    'skin.dat': 'picture',
    README: 'text',
    'water.fx': 'text',
    'noise.png': 'data',
    'table.dat': 'data',
    'call.bin': 'sound',
    loose_call: 'sound',
  });
  await page.goto(`/games/${game.id}/contents?kind=picture`);
  await expect(page.getByText('skin.dat').first()).toBeVisible();
  await expect(page.getByText('noise.png')).toHaveCount(0);

  // What is on the wall is taken out as PNG, and a sound without an ending as WAV.
  const out = path.join(scratch, 'out');
  const recipe = {
    title: 'All as PNG and WAV',
    pick: { search: '', folder: '', kind: null },
    convert: { picture: 'png', sound: 'wav' },
    folder: out,
  };
  const kept = await server.api.post(`/api/games/${game.id}/recipes`, { data: { recipe } });
  const { id } = (await kept.json()) as { id: number };
  const begun = await server.api.post(`/api/games/${game.id}/recipes/${id}`);
  const job = (await begun.json()) as { id: string };
  await expect
    .poll(
      async () => ((await (await server.api.get(`/api/jobs/${job.id}`)).json()) as { state: string }).state,
    )
    .toBe('done');
  const files = filesBelow(out);
  expect(files).toContain('skin.png');
  const { width, height, format } = await sharp(path.join(out, 'skin.png')).metadata();
  expect([width, height, format]).toEqual([24, 16, 'png']);
  await server.api.delete(`/api/games/${game.id}`);
});

test('what the user says of a file or an ending counts, sticks through a scan, and is taken back', async ({
  page,
  server,
  scratch,
}) => {
  const game = await server.addGame(await unknownGame(scratch), `Said ${process.pid}`);
  const dats = async (): Promise<string[]> => {
    const kinds = await kindsOf(server, game.id);
    return [kinds['skin.dat']!, kinds['table.dat']!];
  };
  await openEntry(page, game.id, 'table.dat');
  const change = page.getByRole('button', { name: 'Say otherwise' });
  await change.click();
  await page.getByRole('menuitem', { name: 'model', exact: true }).click();
  await expect(page.getByText('model, as you said of it')).toBeVisible();
  expect(await dats()).toEqual(['picture', 'model']);

  // Of all that bear the ending; what was said of one file counts for more.
  await change.click();
  await page.getByRole('button', { name: 'all .dat' }).click();
  await page.getByRole('menuitem', { name: 'sound', exact: true }).click();
  await expect(page.getByText('.dat is sound now.')).toBeVisible();
  await expect.poll(dats).toEqual(['sound', 'model']);
  const scanned = await server.api.post(`/api/games/${game.id}/jobs`, { data: { kind: 'scan' } });
  const scan = (await scanned.json()) as { id: string };
  await expect
    .poll(
      async () => ((await (await server.api.get(`/api/jobs/${scan.id}`)).json()) as { state: string }).state,
    )
    .toBe('done');
  expect(await dats()).toEqual(['sound', 'model']);
  // Searches go by it as well.
  const found = await server.api.get(`/api/games/${game.id}/entries?search=kind:sound`);
  expect(((await found.json()) as { total: number }).total).toBe(3);

  await page.reload();
  await expect(page.getByText('model, as you said of it')).toBeVisible();
  await change.click();
  await page.getByRole('menuitem', { name: 'What its bytes say' }).click();
  await expect(page.getByText('sound, as you said of all .dat')).toBeVisible();
  // Undone, what was said before is said again.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('model, as you said of it')).toBeVisible();
  expect(await dats()).toEqual(['sound', 'model']);

  const refuse = async (data: object): Promise<number> =>
    (await server.api.post(`/api/games/${game.id}/kinds`, { data })).status();
  expect(await refuse({ scope: 'ending', path: 'README', kind: 'text' })).toBe(400);
  expect(await refuse({ scope: 'path', path: 'README', kind: 'poem' })).toBe(400);
  await server.api.delete(`/api/games/${game.id}`);
});
