import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { execFileSync, spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import zlib from 'node:zlib';
import { nodePrimitives } from '@/platform/node/primitives';
import { NO_SETTINGS, type Settings } from '../settings';
import { codecs } from './index';

/** Settings with the defaults of a codec filled in. */
function settingsOf(name: string, given: Record<string, number | string> = {}): Settings {
  const types = codecs.get(name)!.settings ?? {};
  const all = new Map<string, number | string | Uint8Array>();
  for (const [word, type] of Object.entries(types))
    if (type.default !== undefined) all.set(word, type.default);
  for (const [word, value] of Object.entries(given)) all.set(word, value);
  return all;
}

const encode = (name: string, plain: Uint8Array, given?: Record<string, number | string>): Uint8Array =>
  codecs.get(name)!.encode(plain, nodePrimitives, settingsOf(name, given));
const decode = (
  name: string,
  stored: Uint8Array,
  limit: number,
  given?: Record<string, number | string>,
): Uint8Array => codecs.get(name)!.decode(stored, limit, nodePrimitives, settingsOf(name, given));

/** Bytes as they occur: runs, repeats and noise. */
const samples = fc
  .array(
    fc.oneof(
      fc.uint8Array({ maxLength: 40 }),
      fc.tuple(fc.nat(255), fc.nat(700)).map(([byte, count]) => new Uint8Array(count).fill(byte)),
      fc.constantFrom('the lantern keeper ', 'marsh').map((text) => new TextEncoder().encode(text.repeat(9))),
    ),
    { maxLength: 12 },
  )
  .map((parts) => new Uint8Array(Buffer.concat(parts)));

const text = Buffer.from(
  Array.from(
    { length: 4000 },
    (_, i) => `${i * 7919} the keeper of lamp ${i % 37} goes out at ${(i * i) % 1009}\n`,
  ).join(''),
);

/** Codecs that take any bytes; `gaps` takes texels of a size only (gap-runs.test.ts). */
const OF_ANY_BYTES = codecs.names().filter((name) => name !== 'gaps');

describe.each(OF_ANY_BYTES)('%s', (name) => {
  test('what was encoded decodes to the same', () => {
    fc.assert(
      fc.property(samples, (plain) => {
        expect(Buffer.from(decode(name, encode(name, plain), plain.length)).equals(plain)).toBe(true);
      }),
      { numRuns: 30 },
    );
  });

  test('a view into a larger buffer is taken for what it shows', () => {
    const whole = new Uint8Array(text.length + 20).fill(0xee);
    whole.set(text, 10);
    const stored = encode(name, whole.subarray(10, 10 + text.length));
    const shifted = new Uint8Array(stored.length + 20).fill(0xdd);
    shifted.set(stored, 7);
    const plain = decode(name, shifted.subarray(7, 7 + stored.length), text.length);
    expect(Buffer.from(plain).equals(text)).toBe(true);
  });

  test('broken bytes end in an error or in no more than was allowed', () => {
    const stored = encode(name, text.subarray(0, 5000));
    fc.assert(
      fc.property(
        fc.nat(stored.length - 1),
        fc.integer({ min: 1, max: 255 }),
        fc.boolean(),
        (at, mask, cut) => {
          const bytes = stored.slice(0, cut ? at : stored.length);
          if (!cut) bytes[at]! ^= mask;
          try {
            expect(decode(name, bytes, 6000).length).toBeLessThanOrEqual(6000);
          } catch (error) {
            expect((error as Error).message).not.toBe('');
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  test('more than the limit is refused', () => {
    const plain = new Uint8Array(100_000).fill(7);
    const stored = encode(name, plain);
    let result: Uint8Array | undefined;
    try {
      result = decode(name, stored, 1000);
    } catch (error) {
      expect((error as Error).message).not.toBe('');
    }
    expect(result?.length ?? 0).toBeLessThanOrEqual(1000);
  });
});

describe('lzss, in every layout', () => {
  test('comes back', () => {
    fc.assert(
      fc.property(
        samples,
        fc.record({
          window: fc.constantFrom(256, 1024, 4096, 8192),
          minimum: fc.constantFrom(2, 3, 4),
          flags: fc.constantFrom('lowest', 'highest'),
          literal: fc.constantFrom('one', 'zero'),
          order: fc.constantFrom('little', 'big'),
          length: fc.constantFrom('high', 'low', 'middle'),
          more: fc.constantFrom('nothing', 'byte'),
          places: fc.constantFrom('distance', 'absolute'),
          bias: fc.constantFrom(0, 1),
          start: fc.constantFrom(0, 238),
        }),
        (plain, given) => {
          const stored = encode('lzss', plain, given);
          expect(Buffer.from(decode('lzss', stored, plain.length, given)).equals(plain)).toBe(true);
        },
      ),
    );
  });

  test('with a mark at its end, whatever stands behind the size', () => {
    fc.assert(
      fc.property(samples, fc.constantFrom('nothing', 'byte'), (plain, more) => {
        const given = { end: 'zero', bias: 0, more };
        const stored = encode('lzss', plain, given);
        expect([...stored.subarray(-2)]).toEqual([0, 0]);
        for (const limit of [plain.length, plain.length + 100])
          expect(Buffer.from(decode('lzss', stored, limit, given)).equals(plain)).toBe(true);
      }),
    );
  });

  test('a length in the middle of the word, and one that a byte makes longer', () => {
    // Place 0xabc as bc a., length 3 + 5 as .5, over a window of blanks.
    const middle = Uint8Array.of(0b00, 0xbc, 0xa5);
    const given = { length: 'middle', places: 'absolute', fill: 0x20 };
    expect(Buffer.from(decode('lzss', middle, 8, given)).toString()).toBe(' '.repeat(8));
    // Length 15, so that 4 more are added: 3 + 15 + 4.
    const longer = Uint8Array.of(0b01, 0x61, 0x00, 0xf0, 0x04);
    expect(Buffer.from(decode('lzss', longer, 23, { more: 'byte' })).toString()).toBe('a'.repeat(23));
    expect(() => decode('lzss', longer.subarray(0, 4), 23, { more: 'byte' })).toThrow('beyond the end');
  });

  test('a hand-made stream: a literal, then a match that overlaps itself', () => {
    // Flags lowest first: literal, match. The word: distance 1 stored as 0, length 3 + 2 in the high four bits.
    const stored = Uint8Array.of(0b01, 0x61, 0x00, 0x20);
    expect(Buffer.from(decode('lzss', stored, 6)).toString()).toBe('aaaaaa');
  });

  test('a match may reach into the window as it was at first', () => {
    const stored = Uint8Array.of(0b00, 0x0f, 0x00);
    expect(Buffer.from(decode('lzss', stored, 3, { fill: 0x20 })).toString()).toBe('   ');
  });
});

describe('beside the tools of the system', () => {
  let folder: string;
  const at = (name: string): string => path.join(folder, name);
  beforeAll(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-codec-'));
    fs.writeFileSync(at('plain'), text);
  });
  afterAll(() => fs.rmSync(folder, { recursive: true }));

  test('lz4 reads our frames, we read its, and ours are no larger by a tenth', () => {
    const ours = encode('lz4-frame', text);
    fs.writeFileSync(at('ours.lz4'), ours);
    expect(execFileSync('lz4', ['-dc', at('ours.lz4')]).equals(text)).toBe(true);
    const theirs = execFileSync('lz4', ['-c', at('plain')]);
    expect(Buffer.from(decode('lz4-frame', new Uint8Array(theirs), text.length)).equals(text)).toBe(true);
    const best = execFileSync('lz4', ['-9c', at('plain')]);
    expect(ours.length).toBeLessThan(best.length * 1.1);
    // Linked blocks refer to those before them.
    const linked = execFileSync('lz4', ['-BD', '-B4', '-c', at('plain')]);
    expect(Buffer.from(decode('lz4-frame', new Uint8Array(linked), text.length)).equals(text)).toBe(true);
  });

  test('gzip reads ours', () => {
    fs.writeFileSync(at('ours.gz'), encode('gzip', text));
    expect(execFileSync('gzip', ['-dc', at('ours.gz')]).equals(text)).toBe(true);
    expect(zlib.gunzipSync(encode('gzip', text)).equals(text)).toBe(true);
  });
});

test('settings of codecs have defaults or say that they are needed', () => {
  for (const name of codecs.names())
    for (const [word, type] of Object.entries(codecs.get(name)!.settings ?? {})) {
      expect(type.about).not.toBe('');
      if (type.words && type.default !== undefined) expect(type.words).toContain(type.default);
      expect(word).toMatch(/^[a-z]+$/);
    }
  expect(NO_SETTINGS.size).toBe(0);
});

describe('heavier codecs beside the tools of the system', () => {
  const long = Buffer.concat([
    text,
    Buffer.alloc(70_000, 'x'),
    text.subarray(0, 50_000),
    noise(90_000),
    text,
  ]);

  function noise(length: number): Buffer {
    const out = Buffer.alloc(length);
    let state = 12345;
    for (let i = 0; i < length; i++) {
      state = (Math.imul(state, 1103515245) + 12345) >>> 0;
      out[i] = state >>> 23;
    }
    return out;
  }

  /** What the tool makes of the bytes. */
  const tool = (command: string, args: string[], input: Uint8Array): Buffer =>
    execFileSync(command, args, { input, maxBuffer: 1 << 26 });

  test.each([
    ['zstd', 'zstd', ['-q', '-c'], ['-dqc'], {}],
    ['zstd, without its size', 'zstd', ['-q', '-c', '--no-content-size'], ['-dqc'], {}],
    ['xz', 'xz', ['-c'], ['-dc'], {}],
    ['xz in blocks', 'xz', ['-c', '--block-size=40000', '--check=crc32'], ['-dc'], {}],
    ['xz with SHA-256', 'xz', ['-c', '--check=sha256'], ['-dc'], {}],
    ['lzma', 'xz', ['--format=lzma', '-c'], ['--format=lzma', '-dc'], {}],
    ['bzip2', 'bzip2', ['-c'], ['-dc'], {}],
    ['bzip2 in small blocks', 'bzip2', ['-1c'], ['-dc'], {}],
  ])('%s', (what, command, packing, unpacking, given) => {
    const name = what.split(/[ ,]/)[0]!;
    for (const plain of [long, Buffer.from('a'), Buffer.alloc(200_000, 'ab')]) {
      const ours = encode(name, plain, given);
      expect(tool(command, unpacking, ours).equals(plain)).toBe(true);
      const theirs = tool(command, packing, plain);
      expect(Buffer.from(decode(name, new Uint8Array(theirs), plain.length, given)).equals(plain)).toBe(true);
      // Several one after the other are one.
      if (name !== 'lzma') {
        const twice = decode(name, new Uint8Array(Buffer.concat([theirs, theirs])), 2 * plain.length, given);
        expect(twice.length).toBe(2 * plain.length);
      }
    }
    // LZMA chooses more simply than the tool; the others are as small.
    const most = name === 'xz' || name === 'lzma' ? 1.25 : 1.05;
    expect(encode(name, text, given).length).toBeLessThan(tool(command, packing, text).length * most);
  });

  test('LZMA without its head, with other properties and a mark at the end', () => {
    const ways: Record<string, number | string>[] = [
      { head: 'properties' },
      { head: 'none', lc: 0, lp: 2, pb: 0 },
      { head: 'none', marker: 'yes' },
    ];
    for (const given of ways) {
      const stored = encode('lzma', text, given);
      expect(Buffer.from(decode('lzma', stored, text.length, given)).equals(text)).toBe(true);
    }
    const marked = encode('lzma', text, { head: 'none', marker: 'yes' });
    // With the mark it ends by itself, wherever the limit is.
    expect(decode('lzma', marked, 10 * text.length, { head: 'none' }).length).toBe(text.length);
  });

  test('a damaged check is found', () => {
    for (const name of ['xz', 'bzip2']) {
      const stored = encode(name, text);
      const at = name === 'xz' ? stored.length - 30 : 11;
      stored[at]! ^= 1;
      expect(() => decode(name, stored, text.length)).toThrow();
    }
  });

  test('every byte around the blocks of an .xz file is checked: head, index and foot', () => {
    const whole = spawnSync('xz', ['-c', '--block-size=3000', '--check=crc64'], { input: text }).stdout;
    const plain = decode('xz', whole, text.length);
    expect(Buffer.from(plain).equals(text)).toBe(true);
    const index = 4 * (whole.readUInt32LE(whole.length - 8) + 1);
    const around = [
      ...Array(24).keys(),
      ...Array.from({ length: index + 12 }, (_, i) => whole.length - 1 - i),
    ];
    for (const at of around) {
      const damaged = Uint8Array.from(whole);
      damaged[at]! ^= 0x10;
      expect([at, attempt(() => decode('xz', damaged, text.length))]).toEqual([at, 'refused']);
    }
  });
});

/** What comes of it: the same as ever would be wrong, so it is told. */
function attempt(work: () => Uint8Array): string {
  try {
    return `taken: ${work().length} bytes`;
  } catch {
    return 'refused';
  }
}
