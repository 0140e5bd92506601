import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { isEntering, refusedCall, refusedHost } from './guard';

const call = (headers: Record<string, string>, method = 'GET'): string | undefined =>
  refusedCall(new Request('http://127.0.0.1/api/games', { method, headers: { ...known, ...headers } }))
    ?.message;

const known = { authorization: 'Bearer the-command' };
beforeAll(() => {
  process.env.ZERO_LATCH_SECRET = 'of-this-start';
  process.env.ZERO_LATCH_TOOL_SECRET = 'the-command';
});
afterAll(() => {
  delete process.env.ZERO_LATCH_SECRET;
  delete process.env.ZERO_LATCH_TOOL_SECRET;
});

describe('what the interface answers to', () => {
  test.each(['localhost:4400', '127.0.0.1', '[::1]:80'])('%s is ours', (host) => {
    expect(refusedHost(new Request('http://x/', { headers: { host } }))).toBeUndefined();
    expect(call({ host })).toBeUndefined();
  });

  test.each([
    'evil.example',
    'localhost.evil.example',
    '127.0.0.1.evil.example:4400',
    'evil.example@localhost',
    '',
  ])('%s is not', (host) => expect(call({ host })).toContain('is not one that the application answers to'));

  test('changes come from our own pages only', () => {
    const host = 'localhost:4400';
    expect(call({ host, origin: 'http://localhost:4400' }, 'PUT')).toBeUndefined();
    for (const origin of ['http://localhost:4401', 'http://evil.example', 'null', 'nonsense'])
      expect(call({ host, origin }, 'DELETE')).toContain('own pages');
    expect(call({ host }, 'POST')).toContain('own pages');
    expect(call({ host, 'sec-fetch-site': 'cross-site' })).toContain('other sites');
  });

  describe('who may', () => {
    const ask = (headers: Record<string, string>): number | undefined =>
      refusedCall(new Request('http://127.0.0.1/', { headers: { host: 'localhost:4400', ...headers } }))
        ?.status;

    test.each([
      [{ cookie: 'zero-latch-4400=of-this-start' }],
      [{ cookie: 'other=1; zero-latch-4400=of-this-start; more=2' }],
      [{ authorization: 'Bearer the-command' }],
    ])('%j is known', (headers: Record<string, string>) => expect(ask(headers)).toBeUndefined());

    test.each([
      [{}],
      [{ cookie: '' }],
      [{ cookie: 'zero-latch-4400=of-an-earlier' }],
      [{ cookie: 'zero-latch-4400=of-this-starT' }],
      // Of an application at another port.
      [{ cookie: 'zero-latch-4401=of-this-start' }],
      [{ cookie: 'zero-latch-4400=the-command' }],
      [{ cookie: 'xzero-latch-4400=of-this-start' }],
      [{ authorization: 'Bearer of-this-start' }],
      [{ authorization: 'Bearer ' }],
      [{ authorization: 'Basic the-command' }],
    ])('%j is not', (headers: Record<string, string>) => expect(ask(headers)).toBe(401));

    test('without a secret of the start nobody is', () => {
      const secret = process.env.ZERO_LATCH_SECRET;
      try {
        process.env.ZERO_LATCH_SECRET = '';
        expect(ask({ cookie: 'zero-latch-4400=' })).toBe(401);
        expect(isEntering('')).toBe(false);
        delete process.env.ZERO_LATCH_SECRET;
        expect(ask({ cookie: 'zero-latch-4400=undefined' })).toBe(401);
        expect(isEntering(null)).toBe(false);
      } finally {
        process.env.ZERO_LATCH_SECRET = secret;
      }
    });
  });

  test('every route asks', () => {
    const files = fs
      .readdirSync('src/app/api', { recursive: true, encoding: 'utf8' })
      .filter((file) => path.basename(file) === 'route.ts');
    expect(files.length).toBeGreaterThan(50);
    for (const file of files) {
      const text = fs.readFileSync(path.join('src/app/api', file), 'utf8');
      const exported = [
        ...text.matchAll(/^export (?:const|function|async function) (GET|PUT|POST|PATCH|DELETE)\b(.*)$/gm),
      ];
      expect(exported.length).toBeGreaterThan(0);
      for (const [line] of exported)
        expect([file, / = route\(/.test(line) || text.includes('refusedCall(request)')]).toEqual([
          file,
          true,
        ]);
    }
  });
});
