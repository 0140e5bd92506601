import fs from 'node:fs';
import http from 'node:http';
import path from 'node:path';
import { ADDRESS, expect, helpCardKey, test } from './fixtures';

interface Answer {
  status: number;
  text: string;
}

/** A request with any head we like, as a hostile page or program could send it. */
function raw(target: string, headers: Record<string, string>, method = 'GET', body = ''): Promise<Answer> {
  const { hostname, port } = new URL(ADDRESS);
  return new Promise((resolve, reject) => {
    const request = http.request({ hostname, port, path: target, method, headers }, (response) => {
      let text = '';
      response.on('data', (piece: Buffer) => (text += piece.toString()));
      response.on('end', () => resolve({ status: response.statusCode!, text }));
    });
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
  const add = async (folder: string): Promise<Answer> => {
    const answer = await server.api.post('/api/games', { data: { title: 'x', folder } });
    return { status: answer.status(), text: await answer.text() };
  };
  expect(await add('/')).toMatchObject({
    status: 400,
    text: expect.stringContaining('A whole drive is not a game folder'),
  });
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
