import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FormatError } from '@/core/bytes';
import { writeCells, writeRow } from './edit';
import { readJson } from './read-json';
import { fieldsOf, readOpenTables } from '.';

const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
const textOf = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
const cells = (text: string, name = 'a.json') =>
  readOpenTables(bytesOf(text), name)!.tables[0]!.columns.map((column) => [column.name, column.cells]);
const deep = (): Error => new Error('too deep');
const read = (text: string): unknown => readJson(text, 100, deep);

describe('no digit of a whole number is lost', () => {
  const ids = [9007199254740993n, 9007199254740995n, -9223372036854775808n, 18446744073709551615n, 5];
  test.each(['json', 'yaml'])('in %s', (form) => {
    const text = `[${ids.map((id) => `{"id": ${id}}`).join(', ')}]`;
    expect(cells(text, `a.${form}`)).toEqual([['id', ids]]);
  });

  test('and rows are told apart by them', () => {
    const [field] = fieldsOf(
      readOpenTables(bytesOf('[{"id":9007199254740993},{"id":9007199254740992}]'), 'a.json')!.tables[0]!,
    );
    expect(new Set(field!.texts).size).toBe(2);
  });

  test('a cell beside one is written, and it stays', () => {
    const text = '[{"id": 9007199254740993, "n": 1},\n {"id": 9007199254740995, "n": 2}]';
    const edit = (column: string, value: number | bigint) => ({
      table: '',
      row: 1,
      column,
      within: [],
      value,
    });
    expect(textOf(writeCells(bytesOf(text), 'a.json', [edit('n', 3)]))).toBe(
      text.replace('"n": 2', '"n": 3'),
    );
    expect(textOf(writeCells(bytesOf(text), 'a.json', [edit('id', 9007199254740997n)]))).toBe(
      text.replace('0995', '0997'),
    );
  });

  test('fractions, exponents and digits in texts are what they always were', () => {
    expect(read('[1234567890123456.5, 1e20, 0.1234567890123456789, "12345678901234567890"]')).toEqual([
      1234567890123456.5,
      1e20,
      0.1234567890123456789,
      '12345678901234567890',
    ]);
  });
});

describe('notes and commas at the end, as people write them', () => {
  const text = `// people of the letter
[
  { "id": 7001, "name": "Odd", }, // keeper
  /* gone: { "id": 7002 }, */
  { "id": 7003, "name": "a // no note", "near": [7001, ], },
]
`;
  test('are read past', () => {
    expect(cells(text)).toEqual([
      ['id', [7001, 7003]],
      ['name', ['Odd', 'a // no note']],
      ['near', [undefined, [7001]]],
    ]);
  });

  test('also under an ending of the game’s own; a text that only begins so is none', () => {
    expect(cells(text, 'people.quest')[0]).toEqual(['id', [7001, 7003]]);
    for (const other of [
      '// a program\n{ int i = 0; }',
      '/* [1] */ text',
      `/*${' '.repeat(50_000)}`,
      `${'/**/'.repeat(5000)}x`,
      '/*'.repeat(5000),
    ])
      expect(readOpenTables(bytesOf(other), 'a.quest')).toBeUndefined();
  });

  test('and stay where a cell is written, a row is added or taken out', () => {
    const edit = { table: '', row: 0, column: 'name', within: [], value: 'Odd "M"' };
    expect(textOf(writeCells(bytesOf(text), 'a.json', [edit]))).toBe(text.replace('"Odd"', '"Odd \\"M\\""'));
    const copy = { table: '', row: 0, does: 'copy', key: { column: 'id', value: 7004 } } as const;
    const more = textOf(writeRow(bytesOf(text), 'a.json', copy));
    expect(cells(more)[0]).toEqual(['id', [7001, 7003, 7004]]);
    expect(more.startsWith(text.slice(0, text.lastIndexOf(',')))).toBe(true);
    const less = textOf(writeRow(bytesOf(text), 'a.json', { table: '', row: 1, does: 'remove' }));
    expect(cells(less)[0]).toEqual(['id', [7001]]);
    expect(less).toContain('// people of the letter');
  });
});

test.each([
  ['[{"a": 1}', 'not closed'],
  ['[{"a": }]', 'without a value'],
  ['[1 2]', 'without a comma'],
  ['{"a": 1} {"b": 2}', 'two of them'],
  ['/* not closed [1]', 'a note that is not closed'],
  ['[1234567890123456789', 'a long number that is not closed'],
  ['', 'empty'],
  ['// only a note', 'only a note'],
])('%s is broken: %s', (text) => {
  expect(() => read(text)).toThrow(SyntaxError);
  expect(() => readOpenTables(bytesOf(text), 'a.json')).toThrow(FormatError);
});

test('records within too many others are told as such, long numbers in them or not', () => {
  for (const inner of ['1', '12345678901234567890', '1, // note\n'])
    expect(() => read(`${'['.repeat(2000)}${inner}${']'.repeat(2000)}, `)).toThrow();
  expect(() => read(`${'['.repeat(200)}12345678901234567890${']'.repeat(200)}`)).toThrow('too deep');
  expect(() => readOpenTables(bytesOf(`${'['.repeat(100_000)}1234567890123456`), 'a.json')).toThrow(
    /most 100 records/,
  );
});

test('any document is read in pieces as the engine reads it', () => {
  const plain = (value: unknown): unknown =>
    value instanceof Map
      ? Object.fromEntries([...value].map(([name, own]) => [name as string, plain(own)]))
      : Array.isArray(value)
        ? value.map(plain)
        : typeof value === 'bigint'
          ? Number(value)
          : value;
  fc.assert(
    fc.property(fc.jsonValue({ maxDepth: 5 }), fc.constantFrom(0, 1), (value, spaces) => {
      const text = JSON.stringify(value, null, spaces);
      const [pieces, last] = read(`[${text}, 9007199254740993]`) as [unknown, bigint];
      expect(plain(pieces)).toEqual(JSON.parse(text));
      expect(last).toBe(9007199254740993n);
    }),
  );
});
