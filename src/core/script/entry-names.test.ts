import { describe, expect, test } from '@jest/globals';
import { createHash } from 'node:crypto';
import zlib from 'node:zlib';
import { BytesBuilder } from '../testing/bytes-builder';
import { bare, expectRoundTrip, openWith, textsOf, withChange } from '../testing/round-trip';
import { parseScript } from './index';

/** Where the names of entries come from. */
const script = (body: string) => parseScript(`format script: 1\ntitle: Sample\n${body}`);

describe('names', () => {
  test.each([
    [
      'lower case, other separator, no extension',
      'case: lower, separator: "\\\\", extension: dropped',
      (name: string) =>
        zlib.crc32(
          name
            .toLowerCase()
            .replace('/', '\\')
            .replace(/\.\w+$/, ''),
        ),
    ],
    [
      'upper case, with texts around',
      'case: upper, before: "<", behind: ">"',
      (name: string) => zlib.crc32(`<${name.toUpperCase()}>`),
    ],
    [
      'two bytes a character',
      'encoding: utf-16le',
      (name: string) => zlib.crc32(Buffer.from(name, 'utf16le')),
    ],
  ])('hashed: %s', (_what, settings, hash) => {
    const hashed = script(`
recognise: [{ at: 0, text: HSH }]
records:
  head: { tag: text(3), rows: { type: row, count: '2' } }
  row: { hash: u32, size: { type: u8, derived: size(payload) } }
parts: { head: { type: head, at: 0 } }
entries: { each: head.rows, hash: hash, hashing: { function: crc32, ${settings} }, size: size, payload: { from: end(head), size: size } }
`);
    const bytes = new BytesBuilder().raw('HSH').number(hash('Boats/Hull.txt'), 4).number(3, 1);
    bytes.number(0x01020304, 4).number(2, 1).raw('onetw');
    const options = { ...bare, names: ['Boats/Other.txt', 'Boats/Hull.txt', '\ud800'] };
    expectRoundTrip(
      hashed,
      bytes.bytes(),
      { 'Boats/Hull.txt': 'one', 'unnamed/0000000001020304': 'tw' },
      options,
    );
  });

  test.each([
    ['first', 0],
    ['last', 8],
  ])('the %s half of an MD5', (half, from) => {
    const hashed = script(`
recognise: [{ at: 0, text: MDH }]
records: { head: { tag: text(3), hash: bytes(8), data: bytes(rest) } }
parts: { head: { type: head, at: 0 } }
entries: { each: head, hash: frombe(hash), hashing: { function: md5, half: ${half} }, payload: { field: data } }
`);
    const digest = createHash('md5')
      .update('a/b')
      .digest()
      .subarray(from, from + 8);
    const bytes = new BytesBuilder().raw('MDH').raw(digest).raw('body').bytes();
    expectRoundTrip(hashed, bytes, { 'a/b': 'body' }, { ...bare, names: ['a/b'] });
  });

  test('a pool behind the payloads, whose places are those of the file', () => {
    const pooled = script(`
recognise: [{ at: 0, text: PLB }]
records:
  head: { tag: text(3), poolAt: { type: u32, derived: place(pool) }, rows: { type: row, count: '2' } }
  row: { nameAt: { type: u32, derived: moved(was(nameAt)) }, at: { type: u32, derived: place(payload) }, size: { type: u32, derived: size(payload) } }
  pool: { bytes: bytes(rest) }
parts:
  head: { type: head, at: 0 }
  pool: { type: pool, at: head.poolAt }
entries: { each: head.rows, path: 'textat(nothing, nameAt)', size: size, payload: { at: at, size: size } }
`);
    const bytes = new BytesBuilder().raw('PLB').number(39, 4);
    bytes.number(39, 4).number(31, 4).number(3, 4).number(41, 4).number(34, 4).number(5, 4);
    bytes.raw('onethree').raw('a\0bc\0');
    expectRoundTrip(pooled, bytes.bytes(), { a: 'one', bc: 'three' });
  });

  test('entries with equal names are told apart by number', () => {
    const twins = script(`
recognise: [{ at: 0, text: TW }]
records: { row: { name: text(2), size: { type: u8, derived: size(payload) }, data: bytes(size) } }
parts: { rows: { type: row, at: '2', count: rest } }
entries: { each: rows, path: name, payload: { field: data } }
`);
    const archive = openWith(twins, new BytesBuilder().raw('TWaa\x01xaa\x02yy').bytes());
    expect(archive.entries.map(({ index, path }) => [index, path])).toEqual([
      [0, 'aa'],
      [1, 'aa'],
    ]);
    expect(textsOf(openWith(twins, withChange(archive, 1, 'changed')))).toEqual(['x', 'changed']);
  });
});
