import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import zlib from 'node:zlib';
import { parseScript } from '@/core/script';
import { mediaScripts } from '@/core/testing/media-scripts';
import { nodePrimitives } from '@/platform/node/primitives';
import { describedTable, type LineTable } from '.';

/** Tables in which texts of several languages stand together, each in a way of its own; written from outside, without the product. */
const ascii = (text: string): Buffer => Buffer.from(text, 'latin1');
const u8 = (...numbers: number[]): Buffer => Buffer.from(numbers);
const u16 = (number: number): Buffer => u8(number & 255, number >> 8);

const HEAD = (title: string, tag: string) =>
  `format script: 1\ntitle: ${title}\nrecognise: [{ at: 0, text: ${tag} }]\nbyte order: little\n`;

/** Each row says its language by a code. */
const CODED = parseScript(`${HEAD('Coded', 'CODE')}
records:
  head: { tag: { type: text(4), fixed: CODE }, count: { type: u16, derived: count(rows) } }
  row: { id: u16, tongue: text(2), length: { type: u16, derived: size(data) }, data: bytes(length) }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }
entries: { each: rows, path: text(id), payload: { field: data } }
lines: { encoding: utf-8, key: text(id), language: tongue }
`);
const coded = (rows: readonly (readonly [number, string, string])[]): Uint8Array =>
  Buffer.concat([
    ...[ascii('CODE'), u16(rows.length)],
    ...rows.flatMap(([id, tongue, text]) => {
      const bytes = Buffer.from(text);
      return [u16(id), ascii(tongue), u16(bytes.length), bytes];
    }),
  ]);

/** A block for each language, with all of its texts. */
const BLOCKS = parseScript(`${HEAD('Blocks', 'BLOK')}
records:
  head: { tag: { type: text(4), fixed: BLOK }, count: { type: u8, derived: count(blocks) } }
  block:
    tongue: ztext(utf-8)
    size: { type: u16, derived: size(rows) }
    count: { type: u16, derived: count(rows) }
    rows: { type: row, count: count }
  row: { name: ztext(utf-8), length: { type: u8, derived: size(data) }, data: bytes(length) }
parts:
  head: { type: head, at: 0 }
  blocks: { type: block, at: end(head), count: head.count }
entries: { each: blocks.rows, path: "parent.tongue + '/' + name", payload: { field: data } }
lines: { encoding: utf-8, key: name, language: parent.tongue }
`);
const blocks = (all: Readonly<Record<string, readonly (readonly [string, string])[]>>): Uint8Array =>
  Buffer.concat([
    ...[ascii('BLOK'), u8(Object.keys(all).length)],
    ...Object.entries(all).flatMap(([tongue, rows]) => {
      const parts = rows.map(([name, text]) =>
        Buffer.concat([ascii(`${name}\0`), u8(Buffer.byteLength(text)), Buffer.from(text)]),
      );
      return [ascii(`${tongue}\0`), u16(Buffer.concat(parts).length), u16(rows.length), ...parts];
    }),
  ]);

/** The table of docs/media-scripts.md with a list of languages, and for each key a text in each of them. */
const LISTED = mediaScripts.get('phrases')!;
const listed = (
  tongues: readonly (readonly [string, number, string])[],
  rows: readonly (readonly [number, readonly string[]])[],
): Uint8Array =>
  Buffer.concat([
    ...[ascii('PHRA'), u8(tongues.length), u16(rows.length)],
    ...tongues.flatMap(([code, number, name]) => [ascii(code), u8(number), Buffer.from(`${name}\0`)]),
    ...rows.flatMap(([id, texts]) => [
      u16(id),
      ...texts.flatMap((text) => [u8(Buffer.byteLength(text)), Buffer.from(text)]),
    ]),
  ]);

/** Rows that lead to a list of languages by a number of it, and to their texts by a place; flat, so that they are kept in columns. */
const LED = parseScript(`${HEAD('Led', 'LEDS')}
records:
  head:
    tag: { type: text(4), fixed: LEDS }
    many: { type: u8, derived: count(tongues) }
    count: { type: u16, derived: count(rows) }
  tongue: { code: text(2), number: u8 }
  row:
    id: u16
    tongue: u8
    place: { type: u32, derived: place(payload) }
    length: { type: u16, derived: size(payload) }
    word: { value: 'first(tongues, number == outer.tongue).code' }
parts:
  head: { type: head, at: 0 }
  tongues: { type: tongue, at: end(head), count: head.many }
  rows: { type: row, at: end(tongues), count: head.count }
entries: { each: rows, path: "word + '/' + text(id)", payload: { at: place, size: length } }
lines: { encoding: utf-8, key: text(id), language: word }
`);
function led(
  tongues: readonly (readonly [string, number])[],
  rows: readonly (readonly [number, number, string])[],
): Uint8Array {
  const texts = rows.map(([, , text]) => Buffer.from(text));
  let at = 7 + 3 * tongues.length + 9 * rows.length;
  const table = rows.map(([id, tongue], i) => {
    const place = Buffer.alloc(4);
    place.writeUInt32LE(at);
    at += texts[i]!.length;
    return Buffer.concat([u16(id), u8(tongue), place, u16(texts[i]!.length)]);
  });
  return Buffer.concat([
    ...[ascii('LEDS'), u8(tongues.length), u16(rows.length)],
    ...tongues.flatMap(([code, number]) => [ascii(code), u8(number)]),
    ...[...table, ...texts],
  ]);
}

const FORMS = { CODED, BLOCKS, LISTED, LED };
const open = (form: keyof typeof FORMS, bytes: Uint8Array): LineTable =>
  describedTable(FORMS[form], bytes, 'a.table', nodePrimitives);
const textsOf = ({ lines }: LineTable): unknown => lines.map(({ key, texts }) => [key, ...texts]);

const ENGLISH = ['Mind the plank.', '', 'Krrr. 🪶'] as const;
const GERMAN = ['Achtung, Planke.', 'leer', 'Krrr.'] as const;
const POLISH = ['Uwaga na deskę, bardzo długa deska.', '', 'Krr'] as const;
const IDS = [7, 12, 3];
const NAMES = ['plank', 'b', 'c'];

/** The same texts in each form, in two languages or in three. */
function made(form: keyof typeof FORMS, all: Readonly<Record<string, readonly string[]>>): Uint8Array {
  const tongues = Object.keys(all);
  if (form === 'CODED')
    return coded(tongues.flatMap((tongue) => IDS.map((id, i) => [id, tongue, all[tongue]![i]!] as const)));
  if (form === 'BLOCKS')
    return blocks(
      Object.fromEntries(tongues.map((one) => [one, NAMES.map((name, i) => [name, all[one]![i]!] as const)])),
    );
  if (form === 'LISTED') {
    const words: Record<string, readonly [string, string]> = {
      en: ['eng', 'English'],
      de: ['deu', 'Deutsch'],
      pl: ['pol', 'Polski'],
    };
    return listed(
      tongues.map((one, i) => [words[one]![0], i + 4, words[one]![1]] as const),
      IDS.map((id, i) => [id, tongues.map((one) => all[one]![i]!)] as const),
    );
  }
  return led(
    tongues.map((one, i) => [one, 10 + i] as const),
    tongues.flatMap((tongue, n) => IDS.map((id, i) => [id, 10 + n, all[tongue]![i]!] as const)),
  );
}

describe.each(['CODED', 'BLOCKS', 'LISTED', 'LED'] as const)(
  'a further language in a table that is %s',
  (form) => {
    const two = made(form, { en: ENGLISH, de: GERMAN });

    test('is written as the program of the game would', () => {
      const table = open(form, two);
      expect(table.tongues).toEqual(['en', 'de']);
      const bytes = table.withTongue!('pl', (line) => POLISH[line]!);
      expect(Buffer.from(bytes).toString('latin1')).toBe(
        Buffer.from(made(form, { en: ENGLISH, de: GERMAN, pl: POLISH })).toString('latin1'),
      );
      const again = open(form, bytes);
      expect(again.tongues).toEqual(['en', 'de', 'pl']);
      expect(textsOf(again)).toEqual(
        textsOf(open(form, made(form, { en: ENGLISH, de: GERMAN, pl: POLISH }))),
      );
    });

    test('takes changes and yet another language afterwards', () => {
      const with3 = open(
        form,
        open(form, two).withTongue!('pl', (line) => POLISH[line]!),
      );
      const changed = open(form, with3.write([{ line: 1, tongue: 2, text: 'coś więcej niż dotąd' }]));
      const with4 = open(
        form,
        changed.withTongue!('cs', (line) => `${line} česky`),
      );
      expect(with4.tongues).toEqual(['en', 'de', 'pl', 'cs']);
      expect(with4.lines.map(({ texts }) => texts)).toEqual(
        [0, 1, 2].map((i) => [
          ENGLISH[i],
          GERMAN[i],
          i === 1 ? 'coś więcej niż dotąd' : POLISH[i],
          `${i} česky`,
        ]),
      );
    });

    test('goes in beside one language alone, and with any texts', () => {
      const said = fc.string({ unit: 'grapheme', maxLength: 20 });
      fc.assert(
        fc.property(fc.tuple(said, said, said), fc.tuple(said, said, said), (own, further) => {
          const bytes = open(form, made(form, { de: own })).withTongue!('pl', (line) => further[line]!);
          expect(open(form, bytes).lines.map(({ texts }) => texts)).toEqual(
            own.map((text, i) => [text, further[i]]),
          );
        }),
        { numRuns: 20 },
      );
    });
  },
);

test('rows of one key that stand together stay together', () => {
  const rows = IDS.flatMap((id, i) => [[id, 'en', ENGLISH[i]!] as const, [id, 'de', GERMAN[i]!] as const]);
  const bytes = open('CODED', coded(rows)).withTongue!('pl', (line) => POLISH[line]!);
  const wanted = IDS.flatMap((id, i) => [
    ...[[id, 'en', ENGLISH[i]!] as const, [id, 'de', GERMAN[i]!] as const],
    [id, 'pl', POLISH[i]!] as const,
  ]);
  expect(Buffer.from(bytes)).toEqual(coded(wanted));
});

test('a text that one language has not is added to it, with others beside it', () => {
  const rows = [
    [7, 'en', 'a'],
    [12, 'en', 'b'],
    [12, 'de', 'B'],
    [3, 'de', 'C'],
  ] as const;
  const table = open('CODED', coded(rows));
  const bytes = table.write([
    { line: 0, tongue: 1, text: 'A new one' },
    { line: 1, tongue: 0, text: 'bb' },
    { line: 2, tongue: 0, text: 'c' },
  ]);
  expect(textsOf(open('CODED', bytes))).toEqual([
    ['7', 'a', 'A new one'],
    ['12', 'bb', 'B'],
    ['3', 'c', 'C'],
  ]);
});

describe('a text that one of several lists lacks', () => {
  const inBlocks = (all: Parameters<typeof blocks>[0]): LineTable => open('BLOCKS', blocks(all));
  const numbered = (names: string, tongue: string): (readonly [string, string])[] =>
    [...names].map((name) => [name, `${name} ${tongue}`] as const);

  test('comes where its line stands in the others, called as it is there', () => {
    const table = inBlocks({ en: numbered('abcd', 'en'), de: numbered('ad', 'de'), pl: numbered('b', 'pl') });
    const made = table.write([
      { line: 1, tongue: 1, text: 'ein neues, längeres' },
      { line: 0, tongue: 0, text: 'A' },
    ]);
    const en = [['a', 'A'] as const, ...numbered('bcd', 'en')];
    const de = [...numbered('a', 'de'), ['b', 'ein neues, längeres'] as const, ...numbered('d', 'de')];
    expect(Buffer.from(made)).toEqual(blocks({ en, de, pl: numbered('b', 'pl') }));
    const first = table.write([{ line: 0, tongue: 2, text: 'pierwszy' }]);
    const pl = [['a', 'pierwszy'] as const, ...numbered('b', 'pl')];
    expect(Buffer.from(first)).toEqual(blocks({ en: numbered('abcd', 'en'), de: numbered('ad', 'de'), pl }));
  });

  test('is added though more lack than there are', () => {
    const table = inBlocks({ en: numbered('abcdefgh', 'en'), de: numbered('d', 'de') });
    const changes = [0, 1, 2, 4, 5, 6, 7].map((line) => ({
      line,
      tongue: 1,
      text: `${'abcdefgh'[line]!} de`,
    }));
    expect(textsOf(open('BLOCKS', table.write(changes)))).toEqual(
      [...'abcdefgh'].map((name) => [name, `${name} en`, `${name} de`]),
    );
  });
});

describe('a table that has no word for a language', () => {
  test('says so, and how its script says languages', () => {
    const script = parseScript(`${HEAD('Fixed', 'CODE')}
records:
  head: { tag: { type: text(4), fixed: CODE }, count: { type: u16, derived: count(rows) } }
  row: { id: u16, tongue: text(2), length: { type: u16, derived: size(data) }, data: bytes(length) }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }
entries: { each: rows, path: text(id), payload: { field: data } }
lines: { encoding: utf-8, key: text(id), language: "if(tongue == 'en', 'en', 'de')" }
`);
    const table = describedTable(script, coded([[7, 'en', 'a']]), 'a.table', nodePrimitives);
    expect(() => table.withTongue!('pl', () => '')).toThrow(/a way to say pl/);
  });

  test('a name that its field has no room for', () => {
    const table = open('CODED', coded([[7, 'en', 'a']]));
    // Codes of three letters do not go into a field of two.
    expect(() => table.withTongue!('fil', () => 'x')).toThrow(/fil|2 bytes/);
  });
});

test('a file of one language alone says another one when it becomes that', () => {
  for (const form of ['CODED', 'BLOCKS', 'LISTED', 'LED'] as const) {
    const bytes = open(form, made(form, { de: GERMAN })).inTongue!('pl', [
      { line: 0, tongue: 0, text: POLISH[0] },
    ]);
    expect(open(form, bytes)).toMatchObject({ tongues: ['pl'] });
    expect(open(form, bytes).lines.map(({ texts }) => texts[0])).toEqual([POLISH[0], GERMAN[1], GERMAN[2]]);
  }
});

/** Rows in the order of their numbers, in a deflated pool, with a number for each language that the script names. */
const SORTED = parseScript(
  `${HEAD('Sorted', 'SORT')}
enums: { tongue: { English: 1, German: 2, Polish: 9 } }
records:
  head:
    tag: { type: text(4), fixed: SORT }
    count: { type: u16, derived: count(body) }
    size: { type: u32, derived: stored(body) }
  row: { id: u16, tongue: { type: u8, enum: tongue }, length: { type: u8, derived: size(data) }, data: bytes(length) }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }
entries: { each: rows, path: "text(id) + '.' + text(tongue)", payload: { field: data }, sorted: id * 256 + tongue }
lines:
  encoding: windows-1252
  key: text(id)
  language: "if(tongue == tongue.English, 'English', if(tongue == tongue.German, 'German', 'Polish'))"
`
    .replace(/count\(body\)/, 'count(rows)')
    .replace(/stored\(body\)/, 'size(rows)'),
);
const sorted = (rows: readonly (readonly [number, number, string])[]): Uint8Array => {
  const body = Buffer.concat(
    rows.map(([id, tongue, text]) => Buffer.concat([u16(id), u8(tongue, text.length), ascii(text)])),
  );
  const size = Buffer.alloc(4);
  size.writeUInt32LE(body.length);
  return Buffer.concat([ascii('SORT'), u16(rows.length), size, body]);
};

test('rows in order stay in it, and a language is called as the script calls it', () => {
  const table = describedTable(
    SORTED,
    sorted([
      [3, 1, 'c'],
      [3, 2, 'C'],
      [7, 1, 'a'],
      [12, 1, 'b'],
      [12, 2, 'B'],
    ]),
    'a.sort',
    nodePrimitives,
  );
  expect(table.tongues).toEqual(['en', 'de']);
  const made = table.withTongue!('pl', (line) => ['x', '', 'longer than it'][line]!);
  expect(Buffer.from(made)).toEqual(
    sorted([
      ...[[3, 1, 'c'] as const, [3, 2, 'C'] as const, [3, 9, 'x'] as const],
      ...[[7, 1, 'a'] as const, [7, 9, ''] as const],
      ...[[12, 1, 'b'] as const, [12, 2, 'B'] as const, [12, 9, 'longer than it'] as const],
    ]),
  );
  expect(() => table.withTongue!('cs', () => '')).toThrow(/a way to say cs/);
});

/** A language in three bits of a number, with its id in the others; in a table whose rows are of one length, and in records. */
const BITS = (texts: string): ReturnType<typeof parseScript> =>
  parseScript(
    `${HEAD('Bits', 'BITS')}
records:
  head: { tag: { type: text(4), fixed: BITS }, count: { type: u16, derived: count(rows) } }
  row: { word: { type: u16, bits: { tongue: 3, id: 13 } }, ${texts} }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }
entries: { each: rows, path: text(word), payload: { field: data } }
lines: { encoding: latin1, key: text(id), language: "if(tongue == 0, 'en', if(tongue == 1, 'de', 'pl'))" }
`.replace('latin1', 'windows-1252'),
  );

test.each([
  ['rows of one length', 'data: bytes(2)', (text: string) => ascii(text)],
  [
    'records',
    'length: { type: u8, derived: size(data) }, data: bytes(length)',
    (text: string) => Buffer.concat([u8(text.length), ascii(text)]),
  ],
] as const)('a language in bits of a number: %s', (_, texts, coded2) => {
  const table = (rows: readonly (readonly [number, number, string])[]): Buffer =>
    Buffer.concat([
      ascii('BITS'),
      u16(rows.length),
      ...rows.flatMap(([id, tongue, text]) => [u16(tongue | (id << 3)), coded2(text)]),
    ]);
  const rows = [
    [7, 0, 'ab'],
    [7, 1, 'AB'],
    [9, 0, 'cd'],
    [9, 1, 'CD'],
  ] as const;
  const made = describedTable(BITS(texts), table(rows), 'a.bits', nodePrimitives).withTongue!(
    'pl',
    (line) => ['xx', 'yy'][line]!,
  );
  expect(Buffer.from(made)).toEqual(table([rows[0], rows[1], [7, 2, 'xx'], rows[2], rows[3], [9, 2, 'yy']]));
});

/** Texts that end with a zero in a deflated body, languages as a list of codes. */
const POOL = parseScript(`${HEAD('Pool', 'POOL')}
records:
  head:
    tag: { type: text(4), fixed: POOL }
    many: { type: u8, derived: count(codes) }
    codes: { type: 'text(2)', count: many }
    packed: { type: u32, derived: size(body) }
    body: { type: body, size: packed, seal: [{ zlib: {} }] }
  body: { count: { type: u16, derived: count(rows) }, rows: { type: row, count: count } }
  row: { id: u16, tongue: u8, text: ztext(utf-8) }
parts:
  head: { type: head, at: 0 }
entries: { each: head.body.rows, path: text(id), payload: { field: text } }
lines: { encoding: utf-8, ends: 1, key: text(id), language: 'head.codes[tongue]' }
`);

test('texts with an end in a packed body, and languages as a list of codes', () => {
  const table = (codes: readonly string[], rows: readonly (readonly [number, number, string])[]): Buffer => {
    const body = zlib.deflateSync(
      Buffer.concat([
        u16(rows.length),
        ...rows.flatMap(([id, tongue, text]) => [u16(id), u8(tongue), Buffer.from(`${text}\0`)]),
      ]),
    );
    return Buffer.concat([
      ascii('POOL'),
      u8(codes.length),
      ascii(codes.join('')),
      u8(body.length & 255, body.length >> 8, 0, 0),
      body,
    ]);
  };
  const before = describedTable(
    POOL,
    table(
      ['en', 'de'],
      [
        [7, 0, 'Hi'],
        [7, 1, 'Ho'],
        [9, 0, ''],
      ],
    ),
    'a.pool',
    nodePrimitives,
  );
  const read = (bytes: Uint8Array): LineTable => describedTable(POOL, bytes, 'a.pool', nodePrimitives);
  expect(textsOf(read(before.write([{ line: 1, tongue: 0, text: 'longer than it was' }])))).toEqual([
    ['7', 'Hi', 'Ho'],
    ['9', 'longer than it was', undefined],
  ]);
  const made = read(before.withTongue!('pl', (line) => ['Cześć', 'x'][line]!));
  expect(made.tongues).toEqual(['en', 'de', 'pl']);
  expect(textsOf(made)).toEqual([
    ['7', 'Hi', 'Ho', 'Cześć'],
    ['9', '', undefined, 'x'],
  ]);
  expect(() => before.write([{ line: 0, tongue: 0, text: 'a\0b' }])).toThrow(/one byte 0 that ends it/);
});

test('only rows that are texts say another language; an empty table has none to say', () => {
  const script = parseScript(`${HEAD('Mixed', 'MIXD')}
records:
  head: { tag: { type: text(4), fixed: MIXD }, count: { type: u8, derived: count(rows) } }
  row: { sort: u8, tongue: text(2), id: u8, data: bytes(2) }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }
entries: { each: rows, where: sort == 1, path: text(id), payload: { field: data } }
lines: { encoding: windows-1252, key: text(id), language: tongue }
`);
  const bytes = ascii('MIXD\x03\x01de\x07ab\x02en\x08??\x01de\x09cd');
  const table = describedTable(script, bytes, 'a.mixed', nodePrimitives);
  expect(Buffer.from(table.inTongue!('nl', [{ line: 1, tongue: 0, text: 'xy' }]))).toEqual(
    ascii('MIXD\x03\x01nl\x07ab\x02en\x08??\x01nl\x09xy'),
  );
  const none = describedTable(script, ascii('MIXD\0'), 'a.mixed', nodePrimitives);
  expect([none.withTongue, none.inTongue, none.lines]).toEqual([undefined, undefined, []]);
});
