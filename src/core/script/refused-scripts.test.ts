import { describe, expect, test } from '@jest/globals';
import { memorySource } from '../bytes';
import { openArchive } from '../archive';
import { nodePrimitives } from '@/platform/node/primitives';
import { failure } from '../testing/holds';
import { openWith } from '../testing/round-trip';
import { Budget, parseScript } from './index';

const script = (body: string) => parseScript(`format script: 1\ntitle: Sample\n${body}`);

describe('scripts that are refused', () => {
  const head = (fields: string, rest = ''): string => `
recognise: [{ at: 0, text: X }]
${rest}
records:
  head: ${fields}
  other: { a: u8 }
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: "'a'", payload: { at: '0', size: '0' } }
`;
  test.each([
    ['a field with a name that has a meaning', head('{ position: u8 }'), "'position'"],
    ['a constant with such a name', head('{ a: u8 }', 'constants: { payload: 1 }'), "'payload'"],
    ['bits that do not fill their number', head('{ w: { type: u8, bits: { a: 3 } } }'), 'all 8 of u8'],
    ['bits that are more than it has', head('{ w: { type: u8, bits: { a: 3, b: 6 } } }'), 'fits into 8 bits'],
    [
      'a list of choices between numbers',
      head("{ a: { type: { by: '1', cases: { '1': u8 } }, count: '2' } }"),
      'records in every case',
    ],
    ['a type that is a name of every object', head('{ a: constructor }'), 'a type: a number'],
    ['a type of another language', head('{ a: uint32 }'), "Did you mean 'u32'?"],
    ['one with its byte order', head('{ a: u16be }'), "Did you mean 'u16 big'?"],
    ['a signed one', head('{ a: int64_t }'), "Did you mean 'i64'?"],
    ['a text of another language', head('{ a: string(8) }'), 'Did you mean text(SIZE)'],
    ['an unquoted comma in a type', head('{ a: text(4, latin1) }'), 'into quotes'],
    ['an unquoted comma', head('{ a: { type: u8, derived: max(1, 2) } }'), 'into quotes'],
    [
      'a word that no enum has',
      head("{ a: { type: u8, if: 'kind.thrid == 1' } }", 'enums: { kind: { third: 1 } }'),
      "Did you mean 'third'",
    ],
    ['two fields of one name', head('{ w: { type: u8, bits: { w: 8 } } }'), 'a name of its own'],
    ['both a count and an end', head("{ a: { type: other, count: '1', until: a == 1 } }"), 'only one of'],
    [
      'a setting that a codec has not',
      head("{ a: { type: u8, count: rest, size: '4', seal: [{ lzss: { windw: 1 } }] } }"),
      "Did you mean 'window'",
    ],
    [
      'a cipher without a key',
      head("{ a: { type: u8, count: rest, size: '4', seal: [{ rc4: {} }] } }"),
      "'key'",
    ],
  ])('%s', (_what, body, message) => {
    const error = failure(() => script(body));
    expect(error.message).toContain(message);
    expect(error.facts.line).toBeGreaterThan(2);
  });

  test('texts that double without end', () => {
    const doubling = Array.from({ length: 30 }, (_, i) => `    t${i + 1}: { value: t${i} + t${i} }`).join(
      '\n',
    );
    const growing = script(`
recognise: [{ at: 0, text: X }]
records:
  head:
    tag: text(1)
    t0: { value: "'0123456789'" }
${doubling}
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: t30, payload: { at: '0', size: '0' } }
`);
    expect(failure(() => openWith(growing, new Uint8Array([0x58]))).message).toContain('a text of at most');
  });

  test('a computed field that needs itself', () => {
    const circle = script(`
recognise: [{ at: 0, text: X }]
records: { head: { tag: text(1), a: { value: b }, b: { value: a } } }
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: a, payload: { at: '0', size: '0' } }
`);
    expect(failure(() => openWith(circle, new Uint8Array([0x58]))).message).toContain('needs its own value');
  });
});

describe('scripts that would keep a reader busy', () => {
  const enums = (lines: readonly string[]): string =>
    `format script: 1\ntitle: Many\nrecognise:\n  - { at: 0, text: ABCD }\nenums:\n  kind:\n${lines.join('\n')}\nrecords:\n  all: { kind: u8, data: bytes(rest) }\nparts:\n  all: { type: all, at: 0 }\nentries:\n  each: all\n  path: "'x'"\n  payload: { field: data }\n`;

  test('as many words as are taken are read; more are refused with their line', () => {
    const words = Array.from({ length: 20_000 }, (_, i) => `    w${i}: ${i}`);
    expect(parseScript(enums(words)).title).toBe('Many');
    expect(() => parseScript(enums([...words, '    more: 1']))).toThrow(/at most 20000 names.*20001/);
  });

  test('a name that stands twice is told with its place', () =>
    expect(() => parseScript(enums(['    a: 1', '    b: 2', '    a: 3']))).toThrow(
      /line 9.*each name once.*'a' a second time/s,
    ));
});

describe('hashes over and over', () => {
  const script = parseScript(`format script: 1
title: Over and over
recognise:
  - { at: 0, text: ABCD }
byte order: little
records:
  head: { mark: 'text(4)', count: u32 }
  row: { sum: { type: u32, derived: 'crc32(span(0, file.size)) - crc32(span(0, file.size))' } }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: 8, count: head.count }
entries:
  each: rows
  path: "'x'"
  payload: { at: 0, size: 8 }
`);
  test('are given up, however few steps they are', () => {
    const bytes = new Uint8Array(64 << 20);
    bytes.set(new TextEncoder().encode('ABCD'));
    new DataView(bytes.buffer).setUint32(4, 1_000_000, true);
    expect(() => openArchive(script, memorySource(bytes, 'x'), { primitives: nodePrimitives })).toThrow(
      /needs too many bytes to be hashed/,
    );
  });
});

test('records that vary in shape are held up to a bound that is said, however small they are', () => {
  const members = parseScript(`format script: 1
title: Members
recognise:
  - { at: 0, text: ABCD }
records:
  head: { mark: 'text(4)' }
  member: { name: 'ctext(u8, latin1)', more: 'bytes(0)' }
parts:
  head: { type: head, at: 0 }
  members: { type: member, at: 4, count: rest }
entries:
  each: members
  path: name
  payload: { at: 0, size: 4 }
`);
  const open = (count: number): unknown => {
    const bytes = new Uint8Array(4 + count);
    bytes.set(new TextEncoder().encode('ABCD'));
    const budget = new Budget({ records: 2 << 20 });
    return openArchive(members, memorySource(bytes, 'x'), { primitives: nodePrimitives, budget });
  };
  expect(open(4000)).toBeDefined();
  expect(() => open(5000)).toThrow(
    /needs too many records that vary in shape: they would take more than 2 MB/,
  );
});
