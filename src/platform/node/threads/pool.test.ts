import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { FormatError } from '@/core/bytes';
import { UserError } from '../../user-error';
import { ThreadPool, type PoolOptions } from './pool';
import type { TestRequests } from './testing/test-thread';

/** A thread that runs the source, as the bundles do what was made of it. */
let folder: string;
beforeAll(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-threads-'));
  const at = (file: string): string => JSON.stringify(pathToFileURL(path.resolve(file)).href);
  fs.writeFileSync(
    path.join(folder, 'test-thread.mjs'),
    `import { register } from ${at('node_modules/tsx/dist/esm/api/index.mjs')};
     register();
     await import(${at('src/platform/node/threads/testing/test-thread.ts')});`,
  );
  process.env.ZERO_LATCH_THREADS = folder;
});
afterAll(() => {
  delete process.env.ZERO_LATCH_THREADS;
  fs.rmSync(folder, { recursive: true });
});

const poolWith = (options: Partial<PoolOptions> = {}): ThreadPool<TestRequests> =>
  new ThreadPool({ script: 'test-thread', most: 1, restMs: 50, ...options });

describe('threads beside this one', () => {
  test('answer what they are asked, each its own', async () => {
    const pool = poolWith({ most: 2 });
    const many = await Promise.all([1, 2, 3, 4, 5].map((number) => pool.ask('double', number)));
    expect(many).toEqual([2, 4, 6, 8, 10]);
  });

  test('get what is moved and hand back what they made', async () => {
    const bytes = Uint8Array.of(1, 2, 3);
    const turned = poolWith().ask('turned', bytes, [bytes.buffer]);
    expect(bytes.length).toBe(0);
    expect(await turned).toEqual(Uint8Array.of(3, 2, 1));
  });

  test('throw here what was thrown there', async () => {
    const pool = poolWith();
    const thrown = await Promise.all(
      (['format', 'user', 'other'] as const).map((sort) =>
        pool.ask('broken', sort).catch((error: unknown) => error),
      ),
    );
    expect(thrown[0]).toBeInstanceOf(FormatError);
    expect((thrown[0] as FormatError).facts).toEqual({ file: 'a.bin', byteOffset: 7 });
    expect(thrown[1]).toBeInstanceOf(UserError);
    expect(thrown[1]).toMatchObject({ status: 409, message: 'Not now.' });
    expect(thrown[2]).toMatchObject({ message: expect.stringContaining('odd') });
  });

  test('that one request ends fail that one, and the others are answered by the next', async () => {
    const pool = poolWith({ tooMuch: () => new UserError(422, 'Too much.') });
    const asked = [pool.ask('later', 1), pool.ask('end', null), pool.ask('later', 3)];
    const answers = await Promise.allSettled(asked);
    expect(answers.map(({ status }) => status)).toEqual(['fulfilled', 'rejected', 'fulfilled']);
    await expect(asked[1]).rejects.toThrow('Too much.');
    expect(await pool.ask('double', 4)).toBe(8);
  });

  test('of several that were begun each is tried alone', async () => {
    const pool = poolWith({ atOnce: 3 });
    const asked = [pool.ask('later', 1), pool.ask('end', null), pool.ask('later', 3)];
    const answers = await Promise.allSettled(asked);
    expect(answers.map(({ status }) => status)).toEqual(['fulfilled', 'rejected', 'fulfilled']);
  });

  test('that are asked for what takes too long end, and what waited behind it is answered', async () => {
    const pool = poolWith({ mostMs: 5000, tooMuch: () => new UserError(422, 'Too long.') });
    const [hung, behind] = await Promise.allSettled([pool.ask('hang', null), pool.ask('double', 2)]);
    expect(hung).toMatchObject({ status: 'rejected', reason: { message: 'Too long.' } });
    expect(behind).toEqual({ status: 'fulfilled', value: 4 });
  });
});
