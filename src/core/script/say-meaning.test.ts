import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FormatError } from '../bytes';
import { parseScript } from './parse-script';
import { withMeaning } from './say-meaning';

const script = (columns: string): string => `format script: 1
title: Boats   # what they are
recognise: [{ at: 0, text: BOAT }]
byte order: little

records:
  head: { tag: { type: text(4), fixed: BOAT }, count: { type: u16, derived: count(rows) } }
  row: { id: u16, keeper: u8 }

parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }   # all of it

entries: { each: rows, path: text(id), payload: { at: '0', size: '0' } }

table:
${columns}
# the end
`;

const columnsOf = (text: string) =>
  parseScript(text).table!.columns.map(({ title, means, value }) => [title, value.text, means]);

describe('a column says what it means', () => {
  test.each([
    [
      'in one line',
      '  columns: { id: id, keeper: keeper }',
      '  columns: { id: id, keeper: { value: keeper, means: people } }',
    ],
    [
      'on a line',
      '  columns:\n    id: id\n    keeper: keeper   # who',
      '  columns:\n    id: id\n    keeper: { value: keeper, means: people }   # who',
    ],
    [
      'quoted',
      `  columns:\n    keeper: 'keeper'\n    id: id`,
      `  columns:\n    keeper: { value: 'keeper', means: people }\n    id: id`,
    ],
    [
      'with signs of its own',
      '  columns:\n    keeper: min(keeper, 9)\n    id: id',
      '  columns:\n    keeper: { value: "min(keeper, 9)", means: people }\n    id: id',
    ],
    [
      'over lines',
      '  columns:\n    keeper: |\n      keeper\n    id: id',
      '  columns:\n    keeper: { value: "keeper", means: people }\n    id: id',
    ],
    [
      'with names',
      '  columns: { keeper: { value: keeper, names: { 1: one } } }',
      '  columns: { keeper: { value: keeper, names: { 1: one }, means: people } }',
    ],
    [
      'with names on lines',
      '  columns:\n    keeper:\n      value: keeper\n      flags: { 1: one }\n    id: id',
      '  columns:\n    keeper:\n      means: people\n      value: keeper\n      flags: { 1: one }\n    id: id',
    ],
    [
      'with another meaning',
      '  columns: { keeper: { means: "folk", value: keeper } }',
      '  columns: { keeper: { means: people, value: keeper } }',
    ],
    [
      'with a comma at the end',
      '  columns: { keeper: { value: keeper, }, id: id }',
      '  columns: { keeper: { value: keeper, means: people }, id: id }',
    ],
  ])('%s', (_what, before, after) => {
    expect(withMeaning(script(before), 'keeper', 'people')).toBe(script(after));
  });

  test('twice is once, and the second meaning takes the place of the first', () => {
    const once = withMeaning(script('  columns: { keeper: keeper }'), 'keeper', 'people');
    expect(withMeaning(once, 'keeper', 'people')).toBe(once);
    expect(columnsOf(withMeaning(once, 'keeper', 'boats'))).toEqual([['keeper', 'keeper', 'boats']]);
  });

  test('whatever the table is called, it is called so afterwards, and no other column changes', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ minLength: 1 }).filter((text) => text.trim() !== '' && !/[\ud800-\udfff]/.test(text)),
          fc.constantFrom(
            'no',
            'null',
            'a: b',
            '# c',
            'tables/people.cbor',
            'a/',
            '{x}',
            "it's",
            '12',
            ' padded ',
          ),
        ),
        fc.constantFrom(
          '  columns: { id: id, keeper: keeper }',
          '  columns:\n    id: id\n    keeper:\n      value: keeper',
        ),
        (means, columns) => {
          expect(columnsOf(withMeaning(script(columns), 'keeper', means))).toEqual([
            ['id', 'id', undefined],
            ['keeper', 'keeper', means],
          ]);
        },
      ),
    );
  });

  test('a column that the script has not is refused, with what to write', () => {
    expect(() => withMeaning(script('  columns: { id: id }'), 'keeper', 'people')).toThrow(FormatError);
    expect(() => withMeaning(script('  columns: { id: id }'), 'keeper', 'people')).toThrow(/means: people/);
    expect(() => withMeaning('title: none', 'keeper', 'people')).toThrow(/table\.columns\.keeper/);
  });
});
