import { describe, expect, test } from '@jest/globals';
import zlib from 'node:zlib';
import { BytesBuilder } from '../testing/bytes-builder';
import { failure } from '../testing/holds';
import { expectCutsAreSeen, expectRoundTrip, openWith, withChange } from '../testing/round-trip';
import { parseScript } from './index';

/** Sizes, choices, checks over a whole file and what is said of counts that are none, on bytes made by hand. */
const script = (body: string) => parseScript(`format script: 1\ntitle: Sample\n${body}`);

describe('sizes up to the rest but for some bytes', () => {
  const ended = script(`
recognise: [{ at: 0, text: RS }]
records:
  head:
    tag: text(2)
    rows: { type: row, count: rest, size: rest - 0x4 }
    count: { type: u16, derived: count(rows) }
    last: { type: u16, fixed: 7 }
  row: { size: { type: u8, derived: size(data) }, data: bytes(size) }
parts: { head: { type: head, at: 0 } }
entries: { each: head.rows, path: text(position), payload: { field: data } }
`);
  const bytes = new BytesBuilder()
    .raw('RS')
    .number(3, 1)
    .raw('one')
    .number(2, 1)
    .raw('22')
    .number(2, 2)
    .number(7, 2)
    .bytes();

  test('what follows keeps its room', () => {
    expectRoundTrip(ended, bytes, { 0: 'one', 1: '22' });
    expectCutsAreSeen(ended, bytes);
  });

  test('less than that is told', () => {
    expect(failure(() => openWith(ended, Buffer.from('RS12'))).message).toMatch(
      /head\.rows, byte 2: the file ends too early \(expected 4 bytes, found 2 left\)/,
    );
  });
});

describe('cases of a choice', () => {
  const choosing = script(`
recognise: [{ at: 0, text: CH }]
enums: { kind: { far: 513 } }
records:
  head: { tag: text(2), items: { type: item, count: rest } }
  item:
    by: bytes(2)
    number: { value: fromle(by) }
    word: { type: { by: number, cases: { 0x101: one, kind.far: two }, else: other } }
  one: { one: u8 }
  two: { two: u16 }
  other: { other: { type: { by: 'parent.by', cases: { 'ff00': three, 'ff01': four } } } }
  three: { three: u24 }
  four: { four: u32 }
parts: { head: { type: head, at: 0 } }
entries: { each: head.items, path: text(position), payload: { at: '0', size: '0' } }
`);

  test('by numbers of any spelling, words of an enum, and bytes', () => {
    const bytes = new BytesBuilder()
      .raw('CH')
      .raw(Buffer.from('010101', 'hex'))
      .raw(Buffer.from('01020202', 'hex'));
    bytes.raw(Buffer.from('ff00030303', 'hex')).raw(Buffer.from('ff0104040404', 'hex'));
    expect(openWith(choosing, bytes.bytes()).entries).toHaveLength(4);
    expect(failure(() => openWith(choosing, bytes.raw(Buffer.from('ff02', 'hex')).bytes())).message).toMatch(
      /head\.items\[4\]\.word\.other, byte 22: has to be one of ff00, ff01/,
    );
  });

  test('a word that the enum has not', () => {
    expect(
      failure(() => script(choosing.text.replace('kind.far:', 'kind.fra:').split('\n').slice(2).join('\n')))
        .message,
    ).toContain("Did you mean 'far'");
  });
});

test('a check over the rest of its own file is worked out anew without asking itself', () => {
  const checked = script(`
recognise: [{ at: 0, text: WC }]
records:
  head:
    tag: text(2)
    before: u16
    check: { type: u32, derived: "crc32(concat(span(0, 4), hex('00000000'), span(8, file.size - 8)))" }
    behind: { type: u32, derived: size(data) }
    data: bytes(behind)
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: "'data'", size: behind, payload: { field: data } }
`);
  const rest = new BytesBuilder().number(5, 4).raw('bytes').bytes();
  const zeroed = new BytesBuilder().raw('WC').number(9, 2).number(0, 4).raw(Buffer.from(rest)).bytes();
  const bytes = new BytesBuilder()
    .raw('WC')
    .number(9, 2)
    .number(zlib.crc32(zeroed), 4)
    .raw(Buffer.from(rest))
    .bytes();
  expectRoundTrip(checked, bytes, { data: 'bytes' });
  const changed = withChange(openWith(checked, bytes), 0, 'other bytes');
  const whole = Buffer.from(changed);
  expect(whole.readUInt32LE(4)).toBe(
    zlib.crc32(Buffer.concat([whole.subarray(0, 4), Buffer.alloc(4), whole.subarray(8)])),
  );
});

test('counts and places that are none say where they stand', () => {
  const wrong = (field: string) =>
    script(`
recognise: [{ at: 0, text: WR }]
records: { head: { tag: text(2), a: u8, b: ${field} } }
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: "'a'", payload: { at: '0', size: '0' } }
`);
  const bytes = new BytesBuilder().raw('WR').number(1, 1).raw('xyz').bytes();
  for (const field of [
    'bytes(a - 2)',
    'text(a - 2)',
    "'digits(a - 2, 10)'",
    'pad(a - 2)',
    '{ type: u8, count: a - 2 }',
    "{ type: u8, while: 'byteat(here - 99) == 0' }",
  ])
    expect(failure(() => openWith(wrong(field), bytes)).message).toMatch(
      /sample, head\.b(\[0\])?, byte 3: has to be/,
    );
});

test('the smallest and largest of lists', () => {
  const listed = script(`
recognise: [{ at: 0, text: MM }]
records:
  head:
    tag: text(2)
    list: { type: u16, count: 3 }
    least: { value: min(list), fixed: 2 }
    most: { value: 'max(list, 5)', fixed: 9 }
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: "'a'", payload: { at: '0', size: '0' } }
`);
  const of = (...numbers: number[]) =>
    numbers.reduce((out, number) => out.number(number, 2), new BytesBuilder().raw('MM')).bytes();
  expect(openWith(listed, of(9, 2, 4)).entries).toHaveLength(1);
  expect(failure(() => openWith(listed, of(9, 3, 4))).message).toContain('head.least');
  expect(failure(() => openWith(listed, of(8, 2, 4))).message).toContain('head.most');
});

test('a check over a payload and a sealed list takes each for what it is', () => {
  const mixed = script(`
recognise: [{ at: 0, text: MX }]
records:
  head: { tag: text(2), count: u16, names: { type: name, count: 2, size: 4, seal: [{ xor: { key: "hex('20')" } }] }, rows: { type: row, count: count } }
  name: { text: text(2) }
  row:
    size: { type: u8, derived: size(payload) }
    check: { type: u32, derived: 'crc32(plain(payload)) ^ crc32(plain(head.names))' }
parts: { head: { type: head, at: 0 } }
entries: { each: head.rows, path: text(position), size: size, payload: { from: end(head), size: size } }
`);
  const names = Buffer.from('abcd');
  const out = new BytesBuilder()
    .raw('MX')
    .number(2, 2)
    .raw(names.map((byte) => byte ^ 0x20));
  for (const text of ['one', 'second'])
    out.number(text.length, 1).number((zlib.crc32(text) ^ zlib.crc32(names)) >>> 0, 4);
  expectRoundTrip(mixed, out.raw('onesecond').bytes(), { 0: 'one', 1: 'second' });
});

test('a head tells of a sealed list in another part: its place, its stored and plain size, its check', () => {
  const apart = script(`
recognise: [{ at: 0, text: AP }]
records:
  head:
    tag: text(2)
    at: { type: u16, derived: place(table.rows) }
    stored: { type: u16, derived: size(table.rows) }
    plain: { type: u16, derived: size(plain(table.rows)) }
    check: { type: u32, derived: crc32(plain(table.rows)) }
    checkStored: { type: u32, derived: crc32(stored(table.rows)) }
  table: { rows: { type: row, count: rest, size: head.stored, seal: [{ zlib: { size: head.plain } }] } }
  row: { name: text(4), size: { type: u16, derived: size(payload) } }
parts: { head: { type: head, at: 0 }, table: { type: table, at: head.at } }
entries: { each: table.rows, path: name, size: size, payload: { from: end(head), size: size } }
`);
  const rows = new BytesBuilder().padded('one', 4).number(5, 2).padded('two', 4).number(3, 2).bytes();
  const stored = zlib.deflateSync(rows);
  const out = new BytesBuilder()
    .raw('AP')
    .number(16 + 8, 2)
    .number(stored.length, 2)
    .number(rows.length, 2);
  out.number(zlib.crc32(rows), 4).number(zlib.crc32(stored), 4).raw('firstxyz').raw(stored);
  const bytes = out.bytes();
  expectRoundTrip(apart, bytes, { one: 'first', two: 'xyz' });
  expectCutsAreSeen(apart, bytes);
});
