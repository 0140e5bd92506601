import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  likeness,
  Memory,
  pickLines,
  progressBy,
  replacedIn,
  wordsIn,
  type DeskLine,
  type LineFacts,
  type LineQuery,
  type LineWork,
} from '.';

const line = (
  key: string,
  source: string | undefined,
  was: string | undefined,
  more: Partial<DeskLine> = {},
): DeskLine => ({
  ...{
    place: 't',
    key,
    nth: 0,
    source,
    was,
    others: [],
    speaker: '',
    note: '',
    limit: undefined,
    isTwice: false,
  },
  ...more,
});
const work = (text: string, state: LineWork['state'] = 'draft', at = '2026-01-01'): LineWork => ({
  text,
  state,
  by: '',
  at,
});
const LINES: readonly LineFacts[] = [
  { line: line('a.10', 'Ferry', 'Fähre', { speaker: 'Odd' }), work: undefined, wrong: 0, look: 0 },
  { line: line('a.9', 'Eel', ''), work: work('Aal', 'done', '2026-01-03'), wrong: 0, look: 1 },
  { line: line('b.1', 'Fog', 'Fog', { place: 'u' }), work: undefined, wrong: 0, look: 0 },
  { line: line('b.2', 'Reed', undefined), work: undefined, wrong: 0, look: 0 },
  {
    line: line('b.3', undefined, 'Nur hier'),
    work: work('Auch hier', 'reviewed', '2026-01-02'),
    wrong: 2,
    look: 0,
  },
];
const QUERY: LineQuery = {
  shown: 'all',
  text: '',
  place: '',
  speaker: '',
  order: 'game',
  isBackwards: false,
};
const picked = (query: Partial<LineQuery>): string[] =>
  pickLines(LINES.length, (index) => LINES[index]!, { ...QUERY, ...query }).map(
    (index) => LINES[index]!.line.key,
  );

test.each<[string, Partial<LineQuery>, string[]]>([
  ['all', {}, ['a.10', 'a.9', 'b.1', 'b.2', 'b.3']],
  ['backwards', { isBackwards: true }, ['b.3', 'b.2', 'b.1', 'a.9', 'a.10']],
  ['what has nothing yet', { shown: 'empty' }, ['b.2']],
  ['what is changed', { shown: 'changed' }, ['a.9', 'b.3']],
  ['what fails', { shown: 'failing' }, ['b.3']],
  ['what is worth a look', { shown: 'to look at' }, ['a.9']],
  ['what is as the source', { shown: 'same' }, ['b.1']],
  ['what is done', { shown: 'done' }, ['a.9']],
  ['what is reviewed', { shown: 'reviewed' }, ['b.3']],
  ['a text in a key, a source or a text', { text: 'HIER' }, ['b.3']],
  ['a text in a source', { text: 'eel' }, ['a.9']],
  ['one table', { place: 'u' }, ['b.1']],
  ['one speaker', { speaker: 'Odd' }, ['a.10']],
  ['by key, numbers as numbers', { order: 'key' }, ['a.9', 'a.10', 'b.1', 'b.2', 'b.3']],
  ['by length, backwards', { order: 'length', isBackwards: true }, ['b.3', 'a.10', 'a.9', 'b.1', 'b.2']],
  ['last changed first', { order: 'changed', isBackwards: true, shown: 'changed' }, ['a.9', 'b.3']],
])('lines are picked: %s', (_, query, keys) => {
  expect(picked(query)).toEqual(keys);
});

describe('replacing', () => {
  const how = { find: 'reed', by: 'rush', matchesCase: false, isWhole: false };
  test.each([
    ['Reeds and reed', {}, 'rushs and rush'],
    ['Reeds and reed', { matchesCase: true }, 'Reeds and rush'],
    ['Reeds and reed', { isWhole: true }, 'Reeds and rush'],
    ['nothing of it', {}, undefined],
    ['a.b*c', { find: '.b*', by: '$&' }, 'a$&c'],
    ['über', { find: 'Ü', by: 'U' }, 'Uber'],
    ['anything', { find: '' }, undefined],
  ])('%s', (text, more, made) => {
    expect(replacedIn(text, { ...how, ...more })).toBe(made);
  });

  test('what was found is gone, unless it is in what came for it', () => {
    fc.assert(
      fc.property(fc.string(), fc.string({ minLength: 1, maxLength: 3 }), (text, find) => {
        const made = replacedIn(text, { find, by: '', matchesCase: true, isWhole: false });
        expect(made ?? text).toBe(text.split(find).join(''));
      }),
    );
  });
});

describe('what was said before', () => {
  const memory = new Memory();
  memory.add('The tower at Jetty wants oil before midnight.', 'Der Turm braucht Öl.');
  memory.add('The tower at Reeds wants oil before midnight.', 'Der Turm im Schilf braucht Öl.');
  memory.add('Good night.', 'Gute Nacht.');
  memory.add('', 'nothing');
  memory.add('unsaid', '');

  test('is offered by how alike it is', () => {
    const offers = memory.offers('The tower at Jetty wants eels before midnight.');
    expect(offers.map(({ text }) => text)).toEqual([
      'Der Turm braucht Öl.',
      'Der Turm im Schilf braucht Öl.',
    ]);
    expect(offers[0]!.likeness).toBeGreaterThan(0.9);
    expect(memory.offers('Good night.')).toEqual([
      { source: 'Good night.', text: 'Gute Nacht.', likeness: 1 },
    ]);
    expect(memory.offers('Quite another thing')).toEqual([]);
    expect(memory.offers('')).toEqual([]);
  });

  test('is what was said last', () => {
    memory.add('Good night.', 'Schlaf gut.');
    expect(memory.offers('Good night.')[0]!.text).toBe('Schlaf gut.');
  });

  test('likeness is between nothing and the same, both ways', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), fc.string({ maxLength: 60 }), (a, b) => {
        const found = likeness(a, b);
        expect(found).toBeGreaterThanOrEqual(0);
        expect(found).toBeLessThanOrEqual(1);
        expect(likeness(b, a)).toBeCloseTo(found, 9);
        expect(found === 1).toBe(a === b);
      }),
    );
  });
});

test('progress by table', () => {
  const [first, second] = progressBy(LINES, ({ place }) => place);
  expect(first).toEqual({
    ...{
      name: 't',
      lines: 4,
      words: 3,
      filled: 3,
      changed: 2,
      done: 2,
      doneWords: 1,
      reviewed: 1,
      failing: 1,
    },
  });
  expect(second).toMatchObject({ name: 'u', lines: 1, filled: 1, done: 0 });
});

test('words are counted as people do', () => {
  expect([wordsIn("Don't go, 3 eels!"), wordsIn(''), wordsIn(' … ')]).toEqual([4, 0, 0]);
});
