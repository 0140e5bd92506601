import { describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { refusedCall, refusedHost } from './guard';

const call = (headers: Record<string, string>, method = 'GET'): string | undefined =>
  refusedCall(new Request('http://127.0.0.1/api/games', { method, headers }));

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
