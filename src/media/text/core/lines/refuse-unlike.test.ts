import { expect, test } from '@jest/globals';
import { refuseUnlike, type LinesRead, type LinesWanted } from './refuse-unlike';

const read = (
  words: readonly string[],
  ...lines: (readonly [string, ...(string | undefined)[]])[]
): LinesRead => ({
  words,
  lines: lines.map(([key, ...texts]) => ({ key, texts })),
});
const BEFORE = read(['en', 'de'], ['a', 'A', 'Ä'], ['b', 'B', undefined], ['a', 'A2', 'Ä2']);
const NOTHING: LinesWanted = { changes: [] };

test.each<[string, LinesRead, LinesWanted, readonly number[]]>([
  ['nothing', BEFORE, NOTHING, [0, 1, 2]],
  [
    'another order of lines and languages',
    read(['de', 'en'], ['b', undefined, 'B'], ['a', 'Ä', 'A'], ['a', 'Ä2', 'A2']),
    NOTHING,
    [1, 0, 2],
  ],
  [
    'a text',
    read(['en', 'de'], ['a', 'A', 'Ä'], ['b', 'B', 'N'], ['a', 'A2', 'Ä2']),
    { changes: [{ line: 1, tongue: 1, text: 'N' }] },
    [0, 1, 2],
  ],
  [
    'a line',
    read(['en', 'de'], ['a', 'A', 'Ä'], ['b', 'B', undefined], ['a', 'A2', 'Ä2'], ['c', 'C', '']),
    { changes: [], added: [{ key: 'c', texts: ['C'] }] },
    [0, 1, 2],
  ],
  [
    'a language',
    read(['en', 'nl', 'de'], ['a', 'A', '1', 'Ä'], ['b', 'B', '2', undefined], ['a', 'A2', '3', 'Ä2']),
    { changes: ['1', '2', '3'].map((text, line) => ({ line, tongue: 2, text })), further: ['nl'] },
    [0, 1, 2],
  ],
])('%s that was wanted is let by, with where each line is now', (_, after, wanted, numbers) => {
  expect(refuseUnlike(BEFORE, after, wanted)).toEqual(numbers);
});

test.each<[string, LinesRead, LinesWanted, RegExp]>([
  [
    'a text that was not given',
    read(['en', 'de'], ['a', 'A', 'Ä'], ['b', 'X', undefined], ['a', 'A2', 'Ä2']),
    NOTHING,
    /^b: /,
  ],
  [
    'a text that was given and is not there',
    BEFORE,
    { changes: [{ line: 2, tongue: 0, text: 'N' }] },
    /^a: .*another one/,
  ],
  ['a line that is gone', read(['en', 'de'], ['a', 'A', 'Ä'], ['b', 'B', undefined]), NOTHING, /^a: /],
  ['a line that is lacking', BEFORE, { changes: [], added: [{ key: 'c', texts: ['C'] }] }, /^c: /],
  [
    'a line too many',
    read(['en', 'de'], ['a', 'A', 'Ä'], ['b', 'B', undefined], ['a', 'A2', 'Ä2'], ['c', 'C', '']),
    NOTHING,
    /4 lines in en, de/,
  ],
  [
    'a language too many',
    read(['en', 'de', 'nl'], ['a', 'A', 'Ä', ''], ['b', 'B', undefined, ''], ['a', 'A2', 'Ä2', '']),
    NOTHING,
    /3 lines in en, de, nl/,
  ],
  ['a language that is lacking', BEFORE, { changes: [], further: ['nl'] }, /3 lines in en, de/],
  ['a language that is gone', read(['en'], ['a', 'A'], ['b', 'B'], ['a', 'A2']), NOTHING, /^a: /],
])('%s is refused', (_, after, wanted, said) => {
  expect(() => refuseUnlike(BEFORE, after, wanted)).toThrow(said);
});
