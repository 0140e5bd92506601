import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { keyedLines, keyOfLine, spokenLine, tailsOf, withTexts } from './spoken-line';

const SOUND = 'voice/en/odd/greeting.wav';

test.each([
  ['odd.greeting\tMind the third plank.\n', 'odd.lines'],
  ['voice.en.odd.greeting=Mind the third plank.', 'anything.txt'],
  ['"odd/greeting","Mind the third plank."\r\n', 'takes.csv'],
  ['  "odd_greeting": "Mind the third plank.",', 'lines.json'],
  ['ODD-GREETING ; Mind the third plank.', 'x.ini'],
  ['greeting = Mind the third plank.', 'text/odd.lines'],
])('a line is found in %j', (table, name) => {
  expect(spokenLine(table, name, SOUND)).toBe('Mind the third plank.');
});

test('the longest key wins, wherever it stands', () => {
  const table =
    'greeting\tfrom anyone\nodd.greeting\tfrom Odd\nen.odd.greeting\tin English\nibis.greeting\tother';
  expect(spokenLine(table, 'odd.lines', SOUND)).toBe('in English');
});

test.each([
  ['a name alone in the table of another', 'greeting\tno', 'ibis.lines'],
  ['a key that only begins so', 'odd.greetings\tno', 'odd.lines'],
  ['a key without a text', 'odd.greeting\t\nodd.greeting', 'odd.lines'],
  ['nothing', '', 'odd.lines'],
  ['no lines at all', '\u0000'.repeat(100_000), 'odd.lines'],
])('%s is not its line', (_why, table, name) => expect(spokenLine(table, name, SOUND)).toBeUndefined());

describe('texts in the place of others', () => {
  test('keep everything else of a table, whatever parts its keys and ends its lines', () => {
    const texts = new Map([
      ['odd.fare', 'Three coins'],
      ['gone', 'x'],
    ]);
    expect(withTexts('# lines\r\nodd.fare\tTwo coins\r\nodd.fog\tWhen\r\n', texts)).toEqual({
      table: '# lines\r\nodd.fare\tThree coins\r\nodd.fog\tWhen\r\n',
      missing: ['gone'],
    });
    expect(withTexts('odd.fare = "Two coins",\nodd.fog=When', texts).table).toBe(
      'odd.fare = "Three coins",\nodd.fog=When',
    );
    expect(withTexts('odd.fare\tTwo coins', new Map([['odd.fare', 'one\nline only ']])).table).toBe(
      'odd.fare\tone line only',
    );
  });

  test('come back by their keys', () => {
    const word = fc.stringMatching(/^[a-zA-Z][a-zA-Z .!?äö]{0,20}[a-zA-Z!?]$/);
    const rows = fc.uniqueArray(fc.tuple(fc.stringMatching(/^[a-z][a-z.]{0,8}[a-z]$/), word), {
      minLength: 1,
      maxLength: 9,
      selector: ([key]) => key,
    });
    fc.assert(
      fc.property(
        rows,
        word,
        fc.constantFrom('\n', '\r\n'),
        fc.constantFrom('\t', '=', ' = '),
        (all, next, end, between) => {
          const table = all.map(([key, text]) => `${key}${between}${text}${end}`).join('');
          const [changed] = all[all.length >> 1]!;
          const made = withTexts(table, new Map([[changed, next]]));
          expect([...keyedLines(made.table)]).toEqual(
            all.map(([key, text]) => [key, key === changed ? next : text]),
          );
          expect(made.missing).toEqual([]);
        },
      ),
    );
  });
});

test('what a sound may be tied to by its path', () => {
  expect(tailsOf('Voice/en/odd/Greeting.wav')).toEqual([
    'odd.greeting',
    'en.odd.greeting',
    'voice.en.odd.greeting',
  ]);
  expect(tailsOf('greeting.wav')).toEqual([]);
  expect(keyOfLine('ODD_Greeting')).toBe('odd.greeting');
  expect(keyOfLine('0417/003')).toBe(tailsOf('0417/003.adpcm')[0]);
});
