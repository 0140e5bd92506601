import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { readOpenForm, writeOpenForm } from '../src/media/model/core/open/open-form';
import { waving } from '../src/media/testing/waving';
import { expect, filesBelow, openEntry, test, type Server } from './fixtures';
import { job } from './mods-api';
import { runOf } from './recipe-runs';
import { unzip } from './unzip';

/** Scripts of docs/media-scripts.md, kept as a user's own. */
async function keepScripts(server: Server, names: readonly string[]): Promise<string[]> {
  const doc = fs.readFileSync('docs/media-scripts.md', 'utf8');
  const kept: string[] = [];
  for (const name of names) {
    const text = new RegExp(`# example: ${name}\\n([\\s\\S]*?)\`\`\``).exec(doc)![1]!;
    const answer = await server.api.post('/api/scripts', { data: { text } });
    expect(answer.status(), await answer.text()).toBe(200);
    kept.push(((await answer.json()) as { id: string }).id);
  }
  return kept;
}

const [WIDTH, HEIGHT, FRAMES] = [40, 30, 3];

/** Three frames of sixteen colours at most, two texels in a byte. */
function strip(): Buffer {
  const head = Buffer.from('STRP\0\0\0\0\0\0', 'latin1');
  for (const [i, value] of [WIDTH, HEIGHT, FRAMES].entries()) head.writeUInt16BE(value, 4 + 2 * i);
  const frames = Array.from({ length: FRAMES }, (_, frame) => {
    const texels = Array.from({ length: (WIDTH / 2) * HEIGHT }, (__, i) =>
      (i >> 3) % 3 === frame ? 0x21 : 0x11,
    );
    return Buffer.from([frame, 256 - frame, ...texels]);
  });
  return Buffer.concat([head, ...frames]);
}

function unknownGame(scratch: string): string {
  const folder = path.join(scratch, 'unknown media');
  const inner = path.join(scratch, 'media');
  for (const one of [folder, path.join(inner, 'palettes')]) fs.mkdirSync(one, { recursive: true });
  fs.writeFileSync(path.join(inner, 'walk.bin'), strip());
  // Columns: a run of one texel, one of two behind a gap; then a whole one.
  const column = (top: number, bytes: readonly number[]): number[] => [
    top,
    bytes.length,
    bytes[0]!,
    ...bytes,
    bytes.at(-1)!,
  ];
  const first = [...column(0, [1]), ...column(2, [2, 2]), 255];
  const second = [...column(0, [1, 2, 1, 2]), 255];
  const places = Buffer.alloc(8);
  places.writeUInt32LE(16, 0);
  places.writeUInt32LE(16 + first.length, 4);
  fs.writeFileSync(
    path.join(inner, 'odd.figure'),
    Buffer.concat([Buffer.from([2, 0, 4, 0, 0xfd, 0xff, 4, 0]), places, Buffer.from([...first, ...second])]),
  );
  fs.writeFileSync(path.join(inner, 'palettes', 'odd.pal'), Buffer.from([0, 0, 0, 63, 0, 0, 0, 63, 0]));
  fs.writeFileSync(
    path.join(inner, 'step.pcm8'),
    Buffer.from(Array.from({ length: 11025 }, (_, i) => Math.round(60 * Math.sin(i / 9)) & 255)),
  );
  execFileSync('zip', ['-qr', path.join(folder, 'all.zip'), '.'], { cwd: inner });
  return folder;
}

test("a script makes an unknown game's own pictures and sounds seen, heard, taken out and brought back", async ({
  page,
  server,
  scratch,
}) => {
  const kept = await keepScripts(server, ['strip', 'figure', 'bare']);
  const folder = unknownGame(scratch);
  const game = await server.addGame(folder, `Own media ${process.pid}`);
  const answer = await server.api.get(`/api/games/${game.id}/entries?limit=20`);
  const { rows } = (await answer.json()) as { rows: { path: string; kind: string }[] };
  expect(Object.fromEntries(rows.map(({ path: name, kind }) => [name, kind]))).toEqual({
    'walk.bin': 'picture',
    'odd.figure': 'picture',
    'palettes/odd.pal': 'data',
    'step.pcm8': 'sound',
  });

  // Frames are one sheet, and parts of it by themselves.
  await openEntry(page, game.id, 'walk.bin');
  const inspector = page.getByLabel('Inspector');
  await expect(inspector.getByText(/80 x 60, 16 colours by number, 3 frames/).first()).toBeVisible();
  await openEntry(page, game.id, 'odd.figure');
  await expect(
    inspector.getByText(/256 colours by number, with gaps.*placed by -3, 4/).first(),
  ).toBeVisible();
  await expect(inspector.getByRole('img').first()).toBeVisible();
  await openEntry(page, game.id, 'step.pcm8');
  await expect(inspector.getByText(/11,025 Hz/).first()).toBeVisible();

  const out = path.join(scratch, 'out');
  const recipe = {
    title: 'Everything open',
    pick: { search: '', folder: '', kind: null },
    convert: { picture: 'png', sound: 'wav' },
    folder: out,
  };
  const made = await server.api.post(`/api/games/${game.id}/recipes`, { data: { recipe } });
  await server.api.post(`/api/games/${game.id}/recipes/${((await made.json()) as { id: number }).id}`);
  await runOf(server, game.id);
  expect(filesBelow(out).filter((file) => !file.endsWith('.tsv'))).toEqual([
    'odd.png',
    'palettes/odd.pal',
    'step.wav',
    'walk.png',
  ]);
  const figure = await sharp(path.join(out, 'odd.png')).ensureAlpha().raw().toBuffer();
  const [gap, red, green] = [
    [0, 0, 0, 0],
    [255, 0, 0, 255],
    [0, 255, 0, 255],
  ];
  expect([...figure]).toEqual([red, red, gap, green, green, red, green, green].flat());

  // A sheet with a ramp in its last frame, and a tone at another rate.
  const sheet = sharp(path.join(out, 'walk.png')).ensureAlpha();
  const ramp = Buffer.alloc(WIDTH * HEIGHT * 4, 255);
  for (let i = 0; i < WIDTH * HEIGHT; i++) ramp.fill(100 + 3 * (i % WIDTH), 4 * i, 4 * i + 3);
  const painted = await sheet
    .composite([{ input: ramp, raw: { width: WIDTH, height: HEIGHT, channels: 4 }, left: 0, top: HEIGHT }])
    .png()
    .toBuffer();
  const tone = path.join(scratch, 'tone.flac');
  execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'sine=600:d=0.5', '-ar', '44100', tone]);
  const began = await server.api.post(`/api/games/${game.id}/mods`, { data: { title: 'Repainted' } });
  const { id: modId } = (await began.json()) as { id: number };
  for (const [name, file] of [
    ['walk.bin', { name: 'walk.png', mimeType: 'image/png', buffer: painted }],
    ['step.pcm8', { name: 'tone.flac', mimeType: 'audio/flac', buffer: fs.readFileSync(tone) }],
  ] as const) {
    await openEntry(page, game.id, name);
    await page.getByLabel('File to put in its place').setInputFiles(file);
    await expect(page.getByText(new RegExp(`${name} replaced`))).toBeVisible();
  }
  await page.goto(`/games/${game.id}/changes`);
  await page.getByRole('option').filter({ hasText: 'walk.bin' }).click();
  await expect(page.getByText(/3 frames, 80 x 60, 1 level, nearest colours/).first()).toBeVisible();
  await page.getByRole('button', { name: 'Mix neighbouring colours' }).click();
  await expect(page.getByText(/1 level, colours mixed/).first()).toBeVisible();
  await page.getByRole('option').filter({ hasText: 'step.pcm8' }).click();
  await page.getByRole('button', { name: 'Convert to 11025 Hz, mono, 8 bits' }).click();
  await expect(page.getByText(/put into Bare samples/).first()).toBeVisible();

  const built = await job(server, game, { kind: 'build', modId });
  expect(built, built.error ?? '').toMatchObject({ state: 'done' });
  const installed = await job(server, game, { kind: 'install', buildId: built.result!.buildId });
  expect(installed).toMatchObject({ state: 'done' });
  const after = await unzip(path.join(folder, 'all.zip'));
  const [was, is] = [strip(), after.get('walk.bin')!];
  const frame = 2 + (WIDTH / 2) * HEIGHT;
  // Two frames are as they were, byte by byte; the last one only has colours of the palette, and its spot.
  expect(is.subarray(0, 10 + 2 * frame + 2).equals(was.subarray(0, 10 + 2 * frame + 2))).toBe(true);
  const last = is.subarray(10 + 2 * frame + 2);
  expect(last.equals(was.subarray(10 + 2 * frame + 2))).toBe(false);
  expect(new Set([...last].flatMap((byte) => [byte & 15, byte >> 4])).size).toBeGreaterThan(1);
  expect(Math.max(...[...last].flatMap((byte) => [byte & 15, byte >> 4]))).toBeLessThan(4);
  expect(Math.abs(after.get('step.pcm8')!.length - 11025 / 2)).toBeLessThan(200);
  expect(after.get('odd.figure')!.equals(fs.readFileSync(path.join(scratch, 'media', 'odd.figure')))).toBe(
    true,
  );

  await server.api.delete(`/api/games/${game.id}`);
  for (const id of kept) await server.api.delete(`/api/scripts/${id}`);
});

/** A bank of bare takes with a rate each, and of faces whose size stands in the table. */
function bankBytes(): Buffer {
  const takes = [
    [
      'low',
      8000,
      Buffer.from(Array.from({ length: 8000 }, (_, i) => Math.round(60 * Math.sin(i / 5)) & 255)),
    ],
    [
      'high',
      22050,
      Buffer.from(Array.from({ length: 22050 }, (_, i) => Math.round(60 * Math.sin(i / 5)) & 255)),
    ],
  ] as const;
  const face = Buffer.from(Array.from({ length: 32 * 24 * 2 }, (_, i) => (i & 1 ? (i >> 4) & 255 : 0x1f)));
  const head = Buffer.from('BANK\x02\0\x01\0', 'latin1');
  let at = 8 + 2 * 18 + 14;
  const rows = takes.map(([name, rate, bytes]) => {
    const row = Buffer.alloc(18);
    row.write(name);
    row.writeUInt16LE(rate, 8);
    row.writeUInt32LE(at, 10);
    row.writeUInt32LE(bytes.length, 14);
    at += bytes.length;
    return row;
  });
  const faceRow = Buffer.alloc(14);
  faceRow.write('odd');
  faceRow.set([32, 24], 8);
  faceRow.writeUInt32LE(at, 10);
  return Buffer.concat([head, ...rows, faceRow, ...takes.map(([, , bytes]) => bytes), face]);
}

test('an archive whose table says what its bare bytes are: heard, seen, replaced at another length', async ({
  page,
  server,
  scratch,
}) => {
  const kept = await keepScripts(server, ['bank']);
  const folder = path.join(scratch, 'bank');
  fs.mkdirSync(folder);
  fs.writeFileSync(path.join(folder, 'voices.dat'), bankBytes());
  const game = await server.addGame(folder, `Bank ${process.pid}`);
  const inspector = page.getByLabel('Inspector');
  await openEntry(page, game.id, 'high');
  await expect(inspector.getByText(/1\.0 s, 22,050 Hz, mono/).first()).toBeVisible();
  await openEntry(page, game.id, 'odd');
  await expect(inspector.getByText(/32 x 24, RGB, 5, 6 and 5 bits/).first()).toBeVisible();
  await page.goto(`/games/${game.id}/contents?kind=picture`);
  await expect(page.getByText('odd').first()).toBeVisible();

  const began = await server.api.post(`/api/games/${game.id}/mods`, { data: { title: 'Voices' } });
  const { id: modId } = (await began.json()) as { id: number };
  const tone = path.join(scratch, 'bank-tone.flac');
  execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'sine=600:d=2', '-ar', '44100', tone]);
  await openEntry(page, game.id, 'low');
  await page
    .getByLabel('File to put in its place')
    .setInputFiles({ name: 'tone.flac', mimeType: 'audio/flac', buffer: fs.readFileSync(tone) });
  await expect(page.getByText(/low replaced/)).toBeVisible();
  await page.goto(`/games/${game.id}/changes`);
  await page.getByRole('option').filter({ hasText: 'low' }).click();
  await page.getByRole('button', { name: 'Convert to 8000 Hz, mono, 8 bits' }).click();
  await expect(page.getByText(/put into Bank/).first()).toBeVisible();
  const built = await job(server, game, { kind: 'build', modId });
  expect(built, built.error ?? '').toMatchObject({ state: 'done' });
  expect(await job(server, game, { kind: 'install', buildId: built.result!.buildId })).toMatchObject({
    state: 'done',
  });
  const after = fs.readFileSync(path.join(folder, 'voices.dat'));
  // The first row has the new length, and what lies behind was moved with its places.
  const length = after.readUInt32LE(8 + 14);
  expect(Math.abs(length - 16_000)).toBeLessThan(100);
  expect(after.readUInt32LE(8 + 18 + 10)).toBe(after.readUInt32LE(8 + 10) + length);
  const high = after.readUInt32LE(8 + 18 + 10);
  expect(after.subarray(high, high + 100).equals(bankBytes().subarray(58 + 8000, 58 + 8100))).toBe(true);
  await openEntry(page, game.id, 'low');
  await expect(inspector.getByText(/2\.0 s, 8,000 Hz, mono/).first()).toBeVisible();
  await server.api.delete(`/api/games/${game.id}`);
  for (const id of kept) await server.api.delete(`/api/scripts/${id}`);
});

test('a model with other shapes: set by hand, gone through by a clip, moved in a 3D editor and put back', async ({
  page,
  server,
  scratch,
}) => {
  const kept = await keepScripts(server, ['waving']);
  const folder = path.join(scratch, 'flags');
  fs.mkdirSync(folder);
  const bytes = waving({ glad: [[3, 0, 0.5, 0]], far: [] });
  fs.writeFileSync(path.join(folder, 'flag.wave'), bytes);
  const game = await server.addGame(folder, `Flags ${process.pid}`);
  const began = await server.api.post(`/api/games/${game.id}/mods`, { data: { title: 'Higher' } });
  const { id: modId } = (await began.json()) as { id: number };
  await openEntry(page, game.id, 'flag.wave');
  await page.getByRole('link', { name: 'Look at it large' }).click();
  const stage = page.locator('[data-stage]');
  await expect(page).toHaveURL(/\/model\?/);
  await expect(page.getByRole('slider', { name: 'How much of glad' })).toBeVisible();
  await expect(stage).toHaveAttribute('data-drawn', 'true');
  const seen = (): Promise<Buffer> => stage.screenshot();
  const changed = (from: Buffer): Promise<void> =>
    expect.poll(async () => (await seen()).equals(from)).toBe(false);
  await page.mouse.move(5, 5);
  let before = await seen();
  const glad = page.getByRole('slider', { name: 'How much of glad' });
  await glad.focus();
  await page.keyboard.press('End');
  await changed(before);
  before = await seen();
  await page.getByLabel('Clip', { exact: true }).locator('..').click();
  await page.getByRole('option', { name: 'wave' }).click();
  await page.getByRole('slider', { name: 'Place in the clip' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByText(/^frame 1, /)).toBeVisible();
  await changed(before);

  await page.getByRole('button', { name: 'Take it out' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('dialog').getByRole('link', { name: 'Take it out' }).click();
  const file = path.join(scratch, 'flag.glb');
  await (await download).saveAs(file);
  const form = await readOpenForm(new Uint8Array(fs.readFileSync(file)), 'glb', 'flag.glb');
  expect(form.clips[0]).toMatchObject({ name: 'wave', frames: { first: 2, count: 3 } });
  const [part] = form.parts;
  const morphs = part!.morphs.map((morph) =>
    morph.name === 'glad' ? { ...morph, places: morph.places.map((value) => 2 * value) } : morph,
  );
  const edited = await writeOpenForm({ ...form, parts: [{ ...part!, morphs }] }, 'glb');
  await openEntry(page, game.id, 'flag.wave');
  await page
    .getByLabel('File to put in its place')
    .setInputFiles({ name: 'flag.glb', mimeType: 'model/gltf-binary', buffer: Buffer.from(edited) });
  await expect(page.getByText(/flag.wave replaced/)).toBeVisible();
  const built = await job(server, game, { kind: 'build', modId });
  expect(built, built.error ?? '').toMatchObject({ state: 'done' });
  expect(await job(server, game, { kind: 'install', buildId: built.result!.buildId })).toMatchObject({
    state: 'done',
  });
  expect(fs.readFileSync(path.join(folder, 'flag.wave'))).toEqual(
    Buffer.from(waving({ glad: [[3, 0, 1, 0]], far: [] })),
  );
  await server.api.delete(`/api/games/${game.id}`);
  for (const id of kept) await server.api.delete(`/api/scripts/${id}`);
});
