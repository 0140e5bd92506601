import { chromium, type Page } from '@playwright/test';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { enter } from '../bin/lib/enter.mjs';

/**
 * Takes the pictures of docs/screenshots from a running application:
 *   npm run pictures -- ADDRESS FOLDER
 * ADDRESS is the whole one that bin/start printed, FOLDER a fresh copy of the demo's lanternfen folder, and HELP CARD the file beside the demo.
 */
const [printed, folder, card] = process.argv.slice(2);
if (!printed || !folder || !card) {
  process.stderr.write('usage: npm run pictures -- ADDRESS LANTERNFEN-FOLDER HELP-CARD\n');
  process.exit(2);
}
const { address, headers: known } = await enter(printed);
const headers = { ...known, 'content-type': 'application/json' };
const out = path.join(import.meta.dirname, 'screenshots');

async function call<T>(method: string, place: string, body?: unknown): Promise<T> {
  const answer = await fetch(`${address}/api/${place}`, {
    method,
    headers,
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  if (!answer.ok) throw new Error(`${place}: ${await answer.text()}`);
  return (await answer.json()) as T;
}

interface Entry {
  archiveId: number;
  index: number;
}

const notes = fs.readFileSync(card, 'utf8');
const { id } = await call<{ id: number }>('POST', 'games', { title: 'Lanternfen', folder, notes });
const base = `games/${id}`;

async function settled(game = id): Promise<void> {
  for (;;) {
    const jobs = await call<{ state: string }[]>('GET', `jobs?game=${game}`);
    if (jobs.length > 0 && jobs.every(({ state }) => !['waiting', 'running'].includes(state))) return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}

const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-dev-shm-usage', '--use-angle=swiftshader', '--enable-unsafe-swiftshader'],
});

async function shot(
  name: string,
  place: string,
  mode: 'light' | 'dark' = 'light',
  act?: (page: Page) => Promise<void>,
): Promise<void> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: mode });
  await page.goto(printed!);
  await page.goto(`${address}/${place}`);
  await page.waitForLoadState('networkidle').catch(() => undefined);
  await act?.(page);
  // Thumbnails are made when they are first asked for.
  await page
    .waitForFunction(() => [...document.images].every((image) => image.complete && image.naturalWidth > 0))
    .catch(() => process.stderr.write(`${name}: a picture did not come\n`));
  await page.waitForTimeout(1500);
  const png = await page.screenshot();
  await sharp(png)
    .png({ palette: true, quality: 90 })
    .toFile(path.join(out, `${name}.png`));
  await page.close();
}

async function entry(search: string): Promise<Entry> {
  const { rows } = await call<{ rows: Entry[] }>(
    'GET',
    `${base}/entries?search=${encodeURIComponent(search)}`,
  );
  return rows[0]!;
}

const bytesOf = async ({ archiveId, index }: Entry, what: string): Promise<Buffer> =>
  Buffer.from(
    await (
      await fetch(`${address}/api/${base}/entries/${archiveId}/${index}/${what}`, { headers: known })
    ).arrayBuffer(),
  );

await settled();
await shot('locks', `games/${id}/locks`);
await call('POST', `${base}/keys`, { text: notes, label: 'help card' });
await settled();
await shot('folder', `games/${id}/folder`);
const portrait = await entry('odd/portrait_calm');
await shot(
  'contents',
  `games/${id}/contents?kind=picture&folder=actors%2F&entry=${portrait.archiveId}:${portrait.index}`,
);
await call('POST', `${base}/id-tables`, {
  title: 'cast.csv',
  text: 'code,name\nodd,Odd Marren\nreed_widow,The Reed Widow\nsallow,Captain Sallow\nbog_heron,The bog-heron\n',
});
const dutch = await call<{ id: number }>('POST', `${base}/mods`, { title: 'Nederlands' });
const desk = `${base}/mods/${dutch.id}/desk`;
await call('POST', `${desk}/tongues`, { tongue: 'nl', name: 'Nederlands' });
const talk = { place: 'text/talk.sayings', nth: 0 };
const said: readonly (readonly [string, string, string?])[] = [
  ['jetty.odd.01', 'Heb je de olie voor de steiger bij je?', 'done'],
  ['jetty.odd.02', 'Heb je de palingen voor de steiger bij je?', 'reviewed'],
  ['jetty.odd.04', 'Dat zijn munten voor de olie, en geen minder.'],
  ['jetty.odd.07', 'Niemand verlaat de steiger zonder olie.'],
];
for (const [key, text, state] of said)
  await call('POST', `${desk}/texts`, {
    ...{ source: 'en', target: 'nl', edits: [{ ...talk, key, text, ...(state && { state }) }] },
    ...{ what: `writing ${key}`, by: 'Ida' },
  });
const line = encodeURIComponent(JSON.stringify([talk.place, 'jetty.odd.04', 0]));
await shot(
  'desk',
  `games/${id}/desk?source=en&target=nl&others=de&place=${encodeURIComponent(talk.place)}&line=${line}`,
  'light',
  async (page) => {
    await page.getByText('is missing').first().waitFor();
  },
);
await call('DELETE', `${base}/mods/${dutch.id}`);

await shot('wall', `games/${id}/contents?kind=picture&group=look`, 'dark', async (page) => {
  await page.getByRole('button', { name: 'Look at all pictures' }).click();
  await page.getByText('groups of look-alikes').waitFor();
});
await shot('lenses', `games/${id}/contents?kind=sound&folder=sound%2F`);
const spool = (await call<{ id: number; path: string }[]>('GET', `${base}/archives`)).find(({ path: own }) =>
  own.endsWith('opening.spool'),
);
await shot('film', `games/${id}/film?film=${spool!.id}`, 'dark', async (page) => {
  await page.locator('[data-ready=true]').waitFor();
  await page.getByRole('group', { name: 'Marks' }).getByRole('button', { name: 'widow' }).click();
  for (let i = 0; i < 24; i++) await page.keyboard.press('ArrowRight');
});
const outputs = fs.mkdtempSync(path.join(os.tmpdir(), 'lanternfen-'));
for (const [title, recipe] of [
  ['Everything of Ibis, pictures as PNG', { pick: { search: 'ibis' }, convert: { picture: 'png' } }],
  ['All texts in UTF-8', { pick: { search: '', kind: 'text' }, convert: { text: 'utf-8' } }],
] as const) {
  const made = { ...recipe, title, folder: path.join(outputs, title.split(' ').at(-1)!) };
  const { id: recipeId } = await call<{ id: number }>('POST', `${base}/recipes`, { recipe: made });
  for (let run = 0; run < 2; run++) {
    await call('POST', `${base}/recipes/${recipeId}`);
    await settled();
  }
}
const heron = await entry('bog_heron.form');
const gait = await entry('bog_heron.gait');
await shot(
  'model',
  `games/${id}/model?entry=${heron.archiveId}:${heron.index}&clips=${gait.archiveId}:${gait.index}`,
  'dark',
  async (page) => {
    await page.locator('[data-stage][data-drawn]').waitFor();
    await page.getByRole('checkbox', { name: 'Bones' }).check();
    await page.getByLabel('Clip', { exact: true }).locator('..').click();
    await page.getByRole('option', { name: 'strike' }).click();
    await page.getByRole('slider', { name: 'Place in the clip' }).focus();
    for (let i = 0; i < 14; i++) await page.keyboard.press('ArrowRight');
    await page.getByText(/^frame 14, /).waitFor();
    await page.waitForLoadState('networkidle');
  },
);
await shot('recipes', `games/${id}/recipes`);
await shot('activity', 'activity', 'dark', async (page) => {
  await page
    .getByRole('listitem')
    .filter({ hasText: /\d+ written/ })
    .first()
    .click();
});
fs.rmSync(outputs, { recursive: true });

const mod = await call<{ id: number }>('POST', `${base}/mods`, { title: 'Copper Cape' });
async function put(slot: Entry, name: string, body: Buffer): Promise<void> {
  const query = new URLSearchParams({ archive: String(slot.archiveId), index: String(slot.index), name });
  await fetch(`${address}/api/${base}/mods/${mod.id}/changes?${query}`, {
    method: 'PUT',
    headers: known,
    body: new Uint8Array(body),
  });
}
await put(
  portrait,
  'copper-keeper.png',
  await sharp(await bytesOf(portrait, 'picture'))
    .modulate({ hue: 150, saturation: 1.2 })
    .png()
    .toBuffer(),
);
const jetty = await entry('jetty_dusk');
await put(
  jetty,
  'jetty-large.png',
  await sharp(await bytesOf(jetty, 'picture'))
    .modulate({ hue: 40 })
    .resize(1024, 512)
    .png()
    .toBuffer(),
);
const voice = await entry('odd/greeting.wav');
const wave = await bytesOf(voice, 'raw');
wave.subarray(44).reverse();
await put(voice, 'greeting-backwards.wav', wave);
const lines = await entry('en/ferry.lines');
const text = (await bytesOf(lines, 'raw')).toString('utf8');
await put(
  lines,
  'ferry.lines',
  Buffer.from(text.replace(/^jetty\.greeting\t.*$/m, 'jetty.greeting\tMind the copper plank.')),
);
const credits = await entry('credits.txt');
const added = new URLSearchParams({
  archive: String(credits.archiveId),
  path: 'extra/thanks.txt',
  name: 'thanks.txt',
});
await fetch(`${address}/api/${base}/mods/${mod.id}/added?${added}`, {
  method: 'PUT',
  headers: known,
  body: new Uint8Array(Buffer.from('Thanks to the otters.\n')),
});
await call('POST', `${base}/mods/${mod.id}/removed`, await entry('items/goods.csv'));
await shot('changes', `games/${id}/changes`);
await shot('light-table', `games/${id}/changes`, 'dark', async (page) => {
  await page.getByRole('option').filter({ hasText: 'portrait_calm' }).first().click();
  await page.getByRole('button', { name: /Look closely at .*as it will be/ }).click();
  await page.getByRole('button', { name: 'slider' }).click();
});

const changes = await call<{ id: number; fit: string }[]>('GET', `${base}/mods/${mod.id}/changes`);
for (const { id: change, fit } of changes)
  if (fit === 'does not fit')
    await call('POST', `${base}/mods/${mod.id}/changes/${change}`, { mend: 'resize' });
const story = (await call<{ id: number; title: string; folder: string }[]>('GET', 'games')).find(
  ({ title }) => title === 'Quillmoor',
);
if (story) {
  // The seed of the project lies in its program.
  const program = fs.readFileSync(path.join(story.folder, 'quillmoor.bin'));
  const seed = program.subarray(Math.floor(program.length * 0.61) | 7).subarray(0, 4);
  await call('POST', `games/${story.id}/keys`, { text: seed.toString('hex'), label: 'seed' });
  await settled(story.id);
  await shot('read', `games/${story.id}/read?table=tables%2Fpeople.cbor&row=2`, 'dark');
}

// Another mod that changes the jetty too, ahead of this one.
const other = await call<{ id: number }>('POST', `${base}/mods`, { title: 'Quiet Evenings' });
const green = await sharp(await bytesOf(jetty, 'picture'))
  .modulate({ brightness: 0.8 })
  .png()
  .toBuffer();
const at = new URLSearchParams({
  archive: String(jetty.archiveId),
  index: String(jetty.index),
  name: 'quiet.png',
});
await fetch(`${address}/api/${base}/mods/${other.id}/changes?${at}`, {
  method: 'PUT',
  headers: known,
  body: new Uint8Array(green),
});
await call('PATCH', `${base}/mods`, { order: [other.id, mod.id] });
await call('PATCH', `${base}/mods/${other.id}`, { together: true });
await call('POST', `${base}/jobs`, { kind: 'trial' });
await settled();
await call('POST', `${base}/jobs`, { kind: 'build', modId: mod.id });
await settled();
const keepMod = async (page: Page): Promise<void> => {
  await page.evaluate(
    ([key, value]) => localStorage.setItem(key!, value!),
    [`zero-latch-mod-${id}`, String(mod.id)],
  );
  await page.reload();
  await page.waitForLoadState('networkidle').catch(() => undefined);
};
await shot('build', `games/${id}/build`, 'dark', keepMod);
const [build] = await call<{ id: number }[]>('GET', `${base}/mods/${mod.id}/builds`);
await call('POST', `${base}/jobs`, { kind: 'install', buildId: build!.id });
await settled();
await call('POST', `${base}/jobs`, { kind: 'trial' });
await settled();
await shot('installed', `games/${id}/installed`);
await shot('trial', `games/${id}/trial`, 'light', async (page) => {
  await page.getByRole('button', { name: 'Beside the originals' }).click();
});
await shot('shelf', '');
await shot('scripts', 'scripts?script=hold-peatfire-3');
await call('POST', `${base}/jobs`, { kind: 'restore' });
await settled();
await browser.close();
