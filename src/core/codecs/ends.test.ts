import { describe, expect, test } from '@jest/globals';
import { nodePrimitives } from '@/platform/node/primitives';
import { codecs } from './index';
import type { Settings } from '../settings';

/** No codec runs past the end of what it reads or of what it is to give, and none leaves bytes over in silence. */
const PLAIN = new Uint8Array(Buffer.from('a lantern, a lantern, a lantern in the reeds '.repeat(30)));

/** Streams that say where they end; archives fill up the room behind them, which is nothing that comes out. */
const ENDS_ITSELF = new Set(['deflate', 'zlib', 'gzip', 'brotli', 'lzma', 'xz']);

const defaults = (name: string): Settings =>
  new Map(
    Object.entries(codecs.get(name)!.settings ?? {}).flatMap(([word, type]) =>
      type.default === undefined ? [] : [[word, type.default] as const],
    ),
  );

/** Codecs that take any bytes; `gaps` takes texels of a size only (gap-runs.test.ts). */
const OF_ANY_BYTES = codecs.names().filter((name) => name !== 'gaps');

describe.each(OF_ANY_BYTES)('%s', (name) => {
  const codec = codecs.get(name)!;
  const settings = defaults(name);
  const stored = codec.encode(PLAIN, nodePrimitives, settings);
  const decode = (bytes: Uint8Array, limit = PLAIN.length): Uint8Array =>
    codec.decode(bytes, limit, nodePrimitives, settings);
  const tried = (bytes: Uint8Array, limit?: number): Buffer | 'refused' => {
    try {
      return Buffer.from(decode(bytes, limit));
    } catch {
      return 'refused';
    }
  };

  test('gives back what went in', () => {
    expect(Buffer.from(decode(stored)).equals(PLAIN)).toBe(true);
  });

  test('cut short, it gives less or says so', () => {
    for (let length = 0; length < stored.length; length += 1 + (length >> 4)) {
      const result = tried(stored.slice(0, length));
      expect(result === 'refused' || result.length < PLAIN.length).toBe(true);
    }
  });

  test('more than is wanted is refused', () => {
    for (const less of [1, 2, 7, 40]) expect(tried(stored, PLAIN.length - less)).toBe('refused');
  });

  test('bytes behind the end are refused, or come out', () => {
    for (const more of [[0], [1, 2, 3], [255, 255, 255, 255, 255]]) {
      const result = tried(new Uint8Array([...stored, ...more]), PLAIN.length + 2000);
      if (!ENDS_ITSELF.has(name)) expect(result === 'refused' || result.length !== PLAIN.length).toBe(true);
      else expect(result === 'refused' || result.equals(PLAIN)).toBe(true);
    }
  });
});

describe('lzss', () => {
  const decode = (given: Record<string, number | string>, hex: string, limit: number): Buffer =>
    Buffer.from(
      codecs
        .get('lzss')!
        .decode(
          new Uint8Array(Buffer.from(hex, 'hex')),
          limit,
          nodePrimitives,
          new Map([...defaults('lzss'), ...Object.entries(given)]),
        ),
    );

  test('a match that runs past the end is damage, not a short match', () => {
    // A literal, then a match of 3 bytes back by one: four bytes, and no fewer.
    expect(decode({}, '01610000', 4).toString()).toBe('aaaa');
    expect(() => decode({}, '01610000', 3)).toThrow('a match runs 1 bytes beyond the end');
  });

  test('an end mark that is missing is told', () => {
    const ending = { end: 'zero', bias: 0 };
    expect(decode(ending, '01610000', 1).toString()).toBe('a');
    expect(() => decode(ending, '0161', 1)).toThrow('the end mark is missing');
  });
});
