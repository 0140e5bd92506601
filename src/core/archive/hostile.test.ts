import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import zlib from 'node:zlib';
import { collect, FormatError } from '../bytes';
import { pathProblem, portablePath, shownName } from './path';
import { planArchive } from '../mod';
import { entriesOf, failure, holdBytes, key, openBytes, options } from '../testing/holds';

const FILES = {
  'a/one.txt': 'one '.repeat(90),
  'a/two.bin': Buffer.alloc(70_000, 7),
  'b/three.txt': 'three',
  'b/four.txt': 'four',
  'c/five.txt': 'five',
};
const HEAD = 64;
const FIRST_ROW = HEAD + 16;

/** Changes an open hold's bytes and makes every check above the change hold again, as a forger would. */
function forged(
  change: (view: DataView, bytes: Uint8Array) => void,
  files: Record<string, string | Buffer> = FILES,
): Uint8Array {
  const bytes = holdBytes(entriesOf(files), { rowsPerPage: 50 });
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  change(view, bytes);
  const rows = view.getUint16(HEAD + 4, true);
  view.setUint32(HEAD + 12, zlib.crc32(bytes.subarray(FIRST_ROW, FIRST_ROW + rows * 48)), true);
  view.setUint32(60, zlib.crc32(bytes.subarray(0, 60)), true);
  bytes.set(Buffer.from(bytes.subarray(0, 64)).reverse(), bytes.length - 64);
  return bytes;
}

describe('hostile archives', () => {
  test('a wrong key is told by the page that does not check, with its offset', () => {
    const bytes = holdBytes(entriesOf(FILES), { key });
    const error = failure(() =>
      openBytes(bytes, 'h.hold', undefined, { ...options, keys: new Map([['game', new Uint8Array(32)]]) }),
    );
    expect(error.code).toBe('key-wrong');
    expect(error.facts).toMatchObject({ file: 'h.hold', fieldPath: 'pages[0].check', byteOffset: 76 });
  });

  test('a key of another length is told before it is used', () => {
    const bytes = holdBytes(entriesOf(FILES), { key });
    const error = failure(() =>
      openBytes(bytes, 'h.hold', undefined, { ...options, keys: new Map([['game', new Uint8Array(16)]]) }),
    );
    expect(error.message).toContain("a key 'game' of 32 bytes");
  });

  test('cut anywhere, it says where and never opens', () => {
    const bytes = holdBytes(entriesOf(FILES), { key });
    for (let length = 0; length < bytes.length; length += length < 700 ? 1 : 97) {
      const error = failure(() => openBytes(bytes.slice(0, length)));
      expect(error.facts.byteOffset ?? error.facts.fieldPath).toBeDefined();
    }
  });

  test('one flipped bit is noticed, or changes nothing', () => {
    const bytes = holdBytes(entriesOf(FILES), { key });
    const archive = openBytes(bytes);
    const payload = (at: number): boolean =>
      archive.entries.some(({ offset, storedSize }) => at >= offset && at < offset + storedSize);
    const contents = Object.values(FILES).map((data) => Buffer.from(data as string));
    const rollAt = new DataView(bytes.buffer, bytes.byteOffset).getUint32(48, true) * 16;
    const gap = (at: number): boolean =>
      archive.coverage.gaps.some(({ offset, length }) => at >= offset && at < offset + length);
    fc.assert(
      fc.property(fc.nat(bytes.length - 1), fc.nat(7), (at, bit) => {
        fc.pre(!gap(at));
        const flipped = bytes.slice();
        flipped[at]! ^= 1 << bit;
        try {
          const opened = openBytes(flipped);
          const found = opened.entries.map((entry) => Buffer.from(collect(opened.plain(entry))));
          // Deflate has spare bits that mean nothing; a flip there leaves every entry as it was.
          expect(found.every((bytes_, i) => bytes_.equals(contents[i]!))).toBe(true);
          expect(payload(at) || at > rollAt).toBe(true);
        } catch (error) {
          if (!(error instanceof FormatError)) throw error;
          expect(error.message).toMatch(payload(at) ? /\.(txt|bin)/ : /byte \d+/);
        }
      }),
      { numRuns: 300 },
    );
  });

  test('junk of any length never opens, crashes or hangs', () => {
    const bytes = holdBytes(entriesOf(FILES));
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 1, maxLength: 600 }), fc.nat(bytes.length), (junk, at) => {
        const broken = bytes.slice();
        broken.set(junk.subarray(0, broken.length - at), Math.min(at, broken.length));
        try {
          const opened = openBytes(broken);
          for (const entry of opened.entries) if (!entry.problem) collect(opened.plain(entry));
        } catch (error) {
          expect(error).toBeInstanceOf(FormatError);
        }
      }),
      { numRuns: 300 },
    );
  });

  test('an entry that points outside the file is marked; the others open', () => {
    const archive = openBytes(forged((view) => view.setUint32(FIRST_ROW + 8, 0x0fffffff, true)));
    expect(archive.entries[0]!.problem).toMatchObject({
      code: 'out-of-range',
      facts: { fieldPath: 'pages[0].body[0].place', byteOffset: FIRST_ROW + 8 },
    });
    expect(archive.entries.slice(1).every(({ problem }) => problem === undefined)).toBe(true);
    expect(Buffer.from(collect(archive.plain(archive.entries[2]!))).toString()).toBe('three');
    expect(failure(() => planArchive(archive)).code).toBe('out-of-range');
  });

  test('4 GiB from 100 bytes are not believed', () => {
    const archive = openBytes(forged((view) => view.setBigUint64(FIRST_ROW + 16, 2n ** 32n, true)));
    expect(archive.entries[0]!.problem?.message).toMatch(/stored bytes cannot hold 4294967296/);
    expect(() => archive.plain(archive.entries[0]!)).toThrow('cannot hold');
  });

  test.each([
    '../../x',
    '/etc/passwd',
    'C:/x',
    'a/../../b',
    'a//b',
    'a\\b',
    'a/./b',
    'a\u0001b',
    'x'.repeat(1100),
  ])('the name %j is shown as it is, and written under a safe one', (name) => {
    const archive = openBytes(holdBytes(entriesOf({ [name]: 'evil', 'good.txt': 'good' })));
    const bad = archive.entries[0]!;
    expect(bad.problem).toBeUndefined();
    expect(bad.path).toBe(shownName(name));
    expect(pathProblem(portablePath(bad.path))).toBeUndefined();
    expect(Buffer.from(collect(archive.plain(bad))).toString()).toBe('evil');
    expect(archive.entries[1]!.path).toBe('good.txt');
  });

  test('a chain of pages that bites its tail ends in a message', () => {
    const bytes = holdBytes(entriesOf(FILES), { rowsPerPage: 2 });
    const view = new DataView(bytes.buffer, bytes.byteOffset);
    view.setUint32(HEAD + 8, HEAD / 16, true);
    expect(failure(() => openBytes(bytes))).toMatchObject({
      code: 'overlap',
      facts: { fieldPath: 'pages[1]', byteOffset: HEAD },
    });
  });

  test('payloads that overlap are opened, but not laid out anew', () => {
    const archive = openBytes(
      forged((view) => {
        view.setBigUint64(FIRST_ROW + 48 + 24, view.getBigUint64(FIRST_ROW + 48 + 24, true) + 16n, true);
      }),
    );
    expect(archive.coverage.overlaps.length).toBeGreaterThan(0);
    expect(failure(() => planArchive(archive)).code).toBe('overlap');
  });

  test('an archive of no entries opens, and one of an empty entry is proved', () => {
    expect(openBytes(holdBytes([], { roll: false })).entries).toEqual([]);
    const archive = openBytes(holdBytes(entriesOf({ 'empty.txt': '', 'full.txt': 'x' })));
    expect(collect(archive.plain(archive.entries[0]!)).length).toBe(0);
  });
});
