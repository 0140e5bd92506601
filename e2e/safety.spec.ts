import fs from 'node:fs';
import http from 'node:http';
import os from 'node:os';
import path from 'node:path';
import { ADDRESS, expect, helpCardKey, test, TOOL } from './fixtures';

interface Answer {
  status: number;
  text: string;
  headers: http.IncomingHttpHeaders;
}

/** A request with any head we like, as a hostile page or program could send it; as one that is known unless it says nothing of that. */
function raw(
  target: string,
  headers: Record<string, string>,
  method = 'GET',
  body: string | Buffer = '',
  { authorization = TOOL.authorization } = {},
): Promise<Answer> {
  const { hostname, port } = new URL(ADDRESS);
  return new Promise((resolve, reject) => {
    const request = http.request(
      { hostname, port, path: target, method, headers: { authorization, ...headers } },
      (response) => {
        let text = '';
        response.on('data', (piece: Buffer) => (text += piece.toString()));
        response.on('end', () => resolve({ status: response.statusCode!, text, headers: response.headers }));
      },
    );
    request.on('error', reject);
    request.end(body);
  });
}

const host = new URL(ADDRESS).host;

test('another Host, another Origin and other sites are refused', async () => {
  expect((await raw('/api/games', { host })).status).toBe(200);
  expect((await raw('/api/games', { host: 'evil.example' })).status).toBe(403);
  expect((await raw('/api/job-events', { host: 'evil.example' })).status).toBe(403);
  expect((await raw('/', { host: `evil.example:${new URL(ADDRESS).port}` })).status).toBe(403);
  expect((await raw('/api/games', { host, 'sec-fetch-site': 'cross-site' })).status).toBe(403);
  const post = (headers: Record<string, string>) =>
    raw('/api/games', { host, 'content-type': 'application/json', ...headers }, 'POST', '{}');
  expect((await post({})).status).toBe(403);
  expect((await post({ origin: 'http://evil.example' })).status).toBe(403);
  expect((await post({ origin: 'null' })).status).toBe(403);
  expect((await post({ origin: ADDRESS })).status).toBe(400);
});

test('whoever was not given the address gets a page that says so, and nothing else', async ({
  page,
  browser,
}) => {
  const secret = process.env.ZERO_LATCH_SECRET!;
  const stranger = { authorization: 'Bearer none' };
  for (const target of [
    '/',
    '/games/1/contents',
    '/docs/recipes',
    '/_next/static/x.js',
    '/_next/image?url=%2Fx.png&w=64&q=75',
  ]) {
    const answer = await raw(target, { host }, 'GET', '', stranger);
    expect([target, answer.status]).toEqual([target, 401]);
    expect(answer.text).toContain('Open the one that bin/start printed');
  }
  for (const target of ['/api/games', '/api/health', '/api/job-events', '/api/games/1/entries'])
    expect((await raw(target, { host, origin: ADDRESS }, 'GET', '', stranger)).status).toBe(401);
  expect((await raw('/api/games', { host, origin: ADDRESS }, 'POST', '{}', stranger)).status).toBe(401);
  // The image optimiser is off for those who are known, too.
  expect((await raw('/_next/image?url=%2Fx.png&w=64&q=75', { host })).status).toBe(404);

  const wrong = await raw(`/?enter=${secret.slice(1)}x`, { host }, 'GET', '', stranger);
  expect([wrong.status, wrong.headers['set-cookie']]).toEqual([401, undefined]);
  const right = await raw(`/scripts?enter=${secret}&script=zip`, { host }, 'GET', '', stranger);
  expect([right.status, new URL(right.headers.location!, ADDRESS).href]).toEqual([
    303,
    `${ADDRESS}/scripts?script=zip`,
  ]);
  expect(right.headers['set-cookie']).toEqual([expect.stringMatching(/; HttpOnly; SameSite=strict$/i)]);

  const context = await browser.newContext({ storageState: { cookies: [], origins: [] } });
  const other = await context.newPage();
  await other.goto(ADDRESS);
  await expect(other.getByRole('heading', { name: 'This address needs its word' })).toBeVisible();
  await other.goto(`${ADDRESS}/?enter=${secret}`);
  await expect(other).toHaveURL(`${ADDRESS}/`);
  await expect(other.getByText('Lanternfen').first()).toBeVisible();
  // Once let in, deep links work as well.
  await other.goto(`${ADDRESS}/scripts`);
  await expect(other.getByRole('main')).toBeVisible();
  await context.close();
  await page.goto('/');
  await expect(page.getByText('Lanternfen').first()).toBeVisible();
});

test('pages run their own scripts only, and every answer says what may be done with it', async ({
  page,
  lanternfen,
}) => {
  const refused: string[] = [];
  page.on('console', (message) => {
    if (/Content Security Policy|Refused to/.test(message.text())) refused.push(message.text());
  });
  for (const place of [
    '',
    '/contents',
    '/locks',
    '/changes',
    '/build',
    '/recipes',
    '/folder',
    '/trial',
    '/installed',
  ]) {
    await page.goto(`/games/${lanternfen.id}${place}`);
    await expect(page.getByRole('main')).toBeVisible();
  }
  expect(refused).toEqual([]);
  const answer = await page.goto('/');
  const policy = answer!.headers()['content-security-policy']!;
  const scripts = policy.split('; ').find((part) => part.startsWith('script-src'))!;
  expect(scripts).toMatch(/^script-src 'self' 'nonce-[^']{20,}' 'strict-dynamic'$/);
  // What somebody has put into the page does not run.
  const ran = await page.evaluate(async () => {
    const script = document.createElement('div');
    script.innerHTML = '<img src="x" onerror="window.ranHere = true">';
    document.body.append(script);
    await new Promise((resolve) => script.querySelector('img')!.addEventListener('error', resolve));
    return (window as { ranHere?: boolean }).ranHere ?? false;
  });
  expect(ran).toBe(false);
  for (const target of ['/', '/api/games', `/api/games/${lanternfen.id}/entries?limit=1`, '/nothing/here']) {
    const { headers } = await raw(target, { host });
    expect([target, headers['cross-origin-resource-policy'], headers['x-content-type-options']]).toEqual([
      target,
      'same-origin',
      'nosniff',
    ]);
  }
});

test('texts that cannot be kept are refused with their place; a body is not taken beyond its bound', async ({
  server,
  lanternfen,
}) => {
  const send = async (data: string) => {
    const answer = await server.api.post(`/api/games/${lanternfen.id}/mods`, {
      data,
      headers: { 'content-type': 'application/json' },
    });
    return [answer.status(), ((await answer.json()) as { error: string }).error] as const;
  };
  expect(await send('{"title":"a\\u0000b"}')).toEqual([
    400,
    expect.stringContaining('title: the text holds the character NUL at 1'),
  ]);
  expect(await send('{"title":"\\ud800"}')).toEqual([400, expect.stringContaining('half of a character')]);
  const query = await server.api.get(`/api/games/${lanternfen.id}/entries?search=%00`);
  expect([query.status(), await query.text()]).toEqual([
    400,
    expect.stringContaining('search: the text holds'),
  ]);
  // Announced or not, it is given up while it comes.
  const large = Buffer.alloc(34 << 20, ' ');
  const answer = await raw(
    `/api/games/${lanternfen.id}/mods`,
    { host, origin: ADDRESS },
    'POST',
    large,
  ).catch((error: NodeJS.ErrnoException) => ({ status: error.code }));
  expect([413, 'EPIPE', 'ECONNRESET']).toContain(answer.status);
});

test('the server listens on loopback only', async () => {
  const { port } = new URL(ADDRESS);
  const listening = fs
    .readFileSync('/proc/net/tcp', 'utf8')
    .split('\n')
    .slice(1)
    .map((line) => line.trim().split(/\s+/))
    .filter(
      (fields) =>
        fields[3] === '0A' &&
        fields[1]?.endsWith(`:${Number(port).toString(16).toUpperCase().padStart(4, '0')}`),
    );
  expect(listening.map((fields) => fields[1]!.split(':')[0])).toEqual(['0100007F']);
});

test('only folders are registered that are no drive, no other game and really there', async ({
  server,
  lanternfen,
}) => {
  const add = async (folder: string): Promise<Omit<Answer, 'headers'>> => {
    const answer = await server.api.post('/api/games', { data: { title: 'x', folder } });
    return { status: answer.status(), text: await answer.text() };
  };
  expect(await add('/')).toMatchObject({
    status: 403,
    text: expect.stringContaining('/ is a whole drive'),
  });
  for (const folder of ['/etc', '/proc/self', '/usr/lib'])
    expect(await add(folder)).toMatchObject({
      status: 403,
      text: expect.stringContaining('belongs to the system'),
    });
  expect(await add(path.resolve('src'))).toMatchObject({
    status: 403,
    text: expect.stringContaining('keeps its own files'),
  });
  // What hardly is one game is asked about; where this checkout lies in it, so does a game that is there already.
  const home = await add(os.homedir());
  expect([409, 428]).toContain(home.status);
  if (home.status === 428) expect(home.text).toContain('whole home folder');
  expect(await add('relative/path')).toMatchObject({ status: 400 });
  expect(await add('/no/such/folder')).toMatchObject({
    status: 400,
    text: expect.stringContaining('is not a folder'),
  });
  expect(await add(path.join(lanternfen.folder, 'holds'))).toMatchObject({ status: 409 });
});

test('extraction never writes into a game folder, nor below a link to one', async ({
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const { rows } = (await (
    await server.api.get(`/api/games/${lanternfen.id}/entries?search=credits`)
  ).json()) as { rows: { archiveId: number; index: number }[] };
  const entries = rows.map(({ archiveId, index }) => ({ archiveId, index }));
  fs.symlinkSync(lanternfen.folder, path.join(scratch, 'link'));
  for (const folder of [path.join(lanternfen.folder, 'out'), path.join(scratch, 'link', 'out'), 'relative'])
    expect(
      (
        await server.api.post(`/api/games/${lanternfen.id}/jobs`, {
          data: { kind: 'extract', entries, folder },
        })
      ).status(),
      folder,
    ).toBeGreaterThanOrEqual(400);
  expect(fs.readdirSync(lanternfen.folder)).not.toContain('out');
});

test('requests out of shape get an answer in words, never a crash', async ({ server, lanternfen }) => {
  const base = `/api/games/${lanternfen.id}`;
  for (const [target, status] of [
    [`${base}/entries?limit=9999`, 400],
    [`${base}/entries?sort=%27;drop`, 400],
    [`${base}/entries/999999/0`, 404],
    [`${base}/entries/abc/0`, 400],
    ['/api/games/0', 400],
    ['/api/games/99999999', 404],
    ['/api/jobs/not-a-uuid', 400],
    ['/api/downloads/00000000-0000-4000-8000-000000000000', 410],
    [`${base}/trials/1/..%2f..%2fpackage.json`, 404],
  ] as const) {
    const answer = await server.api.get(target);
    expect(answer.status(), target).toBe(status);
    expect((await answer.json()).error.length, target).toBeGreaterThan(8);
  }
  expect((await server.api.post(`${base}/jobs`, { data: { kind: 'nonsense' } })).status()).toBe(400);
  expect(
    (
      await server.api.post(`${base}/keys`, {
        data: 'not json',
        headers: { 'content-type': 'application/json' },
      })
    ).status(),
  ).toBe(400);
});

test('keys are never given out whole, nor written to the log', async ({ server, lanternfen }) => {
  await server.unlock(lanternfen);
  const whole = helpCardKey().replaceAll(' ', '');
  for (const target of ['keys', 'archives', 'chain', '']) {
    const text = await (await server.api.get(`/api/games/${lanternfen.id}/${target}`)).text();
    expect(text).not.toContain(whole);
  }
  const log = path.join(process.env.ZERO_LATCH_TEST_DATA ?? '', 'app.log');
  if (fs.existsSync(log)) expect(fs.readFileSync(log, 'utf8')).not.toContain(whole);
});

test('a file that a reader does not come to the end of holds nobody else up', async ({ server, scratch }) => {
  const folder = path.join(scratch, 'endless');
  fs.mkdirSync(folder);
  fs.cpSync('src/platform/node/testing/endless/film.webm', path.join(folder, 'film.webm'));
  // Few bytes that a loader of drawings would draw for minutes, under the name of a picture.
  const drawing = `<svg xmlns="http://www.w3.org/2000/svg" width="30000" height="30000">${'<g filter="url(#f)">'.repeat(40)}</svg>`;
  fs.writeFileSync(path.join(folder, 'harmless.png'), drawing);
  const game = await server.addGame(folder, `Endless ${process.pid}`);
  const { rows } = (await (await server.api.get(`/api/games/${game.id}/entries?limit=10`)).json()) as {
    rows: { path: string; archiveId: number; index: number }[];
  };
  const look = (name: string) => {
    const row = rows.find((one) => one.path === name)!;
    return server.api.get(`/api/games/${game.id}/entries/${row.archiveId}/${row.index}`, {
      timeout: 100_000,
    });
  };
  const endless = look('film.webm');
  // Meanwhile all others are answered.
  for (let i = 0; i < 20; i++) {
    const began = Date.now();
    expect((await server.api.get('/api/games')).status()).toBe(200);
    expect(Date.now() - began).toBeLessThan(10_000);
  }
  const harmless = (await (await look('harmless.png')).json()) as { look: { sort: string } };
  // Begun beside the endless one and ended with it, it is tried again alone and not blamed; nor is it drawn.
  expect(harmless.look.sort).toBe('text');
  const told = (await (await endless).json()) as { look: { sort: string; message: string } };
  expect(told.look).toEqual({ sort: 'problem', message: expect.stringContaining('took too long') });
  await server.api.delete(`/api/games/${game.id}`);
});

test('hundreds of pages that listen keep nobody else waiting, and those over the limit are told so', async ({
  server,
}) => {
  const { hostname, port } = new URL(ADDRESS);
  const open: http.ClientRequest[] = [];
  /** One that listens; gives the status that it was answered with, and stays. */
  const listen = (): Promise<number> =>
    new Promise((resolve, reject) => {
      const headers = { authorization: TOOL.authorization, host };
      const request = http.request({ hostname, port, path: '/api/job-events', headers }, (response) => {
        response.resume();
        // Closed by this test in the end.
        response.on('error', () => undefined);
        resolve(response.statusCode!);
      });
      request.on('error', reject);
      request.end();
      open.push(request);
    });
  const statuses = await Promise.all(Array.from({ length: 210 }, listen));
  expect(statuses.filter((status) => status === 200).length).toBeGreaterThan(190);
  expect(statuses.filter((status) => status === 503).length).toBeGreaterThanOrEqual(10);
  const began = Date.now();
  expect(await (await server.api.get('/api/health')).json()).toMatchObject({ ready: true });
  expect((await server.api.get('/api/games')).status()).toBe(200);
  expect(Date.now() - began).toBeLessThan(5000);
  for (const request of open) request.destroy();
  await expect.poll(listen).toBe(200);
  open.at(-1)!.destroy();
});
