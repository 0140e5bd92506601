import { describe, expect, test } from '@jest/globals';
import { encodeText } from '@/core/script';
import { widthIn } from '@/media/font/core';
import { checkLine, marksOf, type LineRules, type NamedFont } from '.';
import { LINE_BREAKS } from './table';

const rules = (source: string | undefined, more: Partial<LineRules> = {}): LineRules => ({
  source,
  bytesOf: (text) => encodeText(text, 'utf-8').length,
  forbidden: LINE_BREAKS,
  ...more,
});
const codes = (text: string, source: string | undefined, more: Partial<LineRules> = {}): string[] =>
  checkLine(text, rules(source, more)).map(({ code }) => code);

test.each([
  ['{coins} coins', ['{coins}']],
  ['%s of %2$d, 100%', ['%s', '%2$d']],
  ['100 % sure, 50% off', []],
  ['100%% %d', ['%d']],
  ['${name} and %name%', ['${name}', '%name%']],
  ['<b>Mind</b> the <icon=oil/> gap', ['<b>', '</b>', '<icon=oil/>']],
  ['[i]Krrr.[/i] 3 < 4 > 2', ['[i]', '[/i]']],
  ['{n, plural, one {# reed} other {# reeds}} by {who}', ['{n, plural}', '{who}']],
  ['{n, plural, one {{who} has # reed} other {{who} has # reeds}}', ['{n, plural}', '{who}', '{who}']],
  ['{price:0.00} {0}', ['{price:0.00}', '{0}']],
  ['a { b', []],
])('the values and tags of %j', (text, found) => {
  expect(
    marksOf(text)
      .marks.map((mark) => mark.text)
      .sort(),
  ).toEqual([...found].sort());
});

test('a game has patterns of its own', () => {
  expect(marksOf('Hello ~name~, ~n~', [/~\w+~/]).marks.map(({ text }) => text)).toEqual(['~name~', '~n~']);
});

describe('what is found', () => {
  test.each([
    ['Fährgeld', 'Fare: {coins}', ['missing value']],
    ['Fährgeld: {coin}', 'Fare: {coins}', ['missing value', 'added value']],
    ['%d für %s', '%s for %d', ['order of values']],
    ['%2$s für %1$s', '%1$s for %2$s', []],
    ['{b} und {a}', '{a} and {b}', []],
    ['<b>Halt</b>', 'Stop', ['added tag']],
    ['Halt', '<b>Stop</b>', ['missing tag']],
    ['Fährgeld: {coins', 'Fare: {coins}', ['missing value', 'braces']],
    ['Halt?', 'Stop.', ['end sign']],
    ['¿Alto?', 'Stop.', []],
    [' Halt', 'Stop', ['blanks']],
    ['Drei Münzen', '3 coins', ['numbers']],
    ['3 Münzen', '3 coins', []],
    ['Eins\\nzwei', 'One two', ['line breaks']],
    ['a\nb', 'a b', ['forbidden', 'line breaks']],
    ['Nul\0l', 'Nil', ['sign']],
    ['Nul\ud800l', 'Nil', ['sign']],
    ['', 'Stop', []],
    ['Halt', undefined, []],
  ])('in %j for %j', (text, source, found) => {
    expect(codes(text, source).sort()).toEqual([...found].sort());
  });

  test('too long in characters as people count them, or in bytes as the table keeps them', () => {
    expect(codes('Fähre', 'Ferry', { limit: { most: 5, unit: 'characters' } })).toEqual([]);
    expect(codes('Fähre', 'Ferry', { limit: { most: 5, unit: 'bytes' } })).toEqual(['too long']);
    expect(codes('🛶🛶', 'Boat', { limit: { most: 2, unit: 'characters' } })).toEqual([]);
  });

  test('signs that the encoding or the font has not, with a spelling that both have', () => {
    const latin = { bytesOf: (text: string) => encodeText(text, 'latin1').length };
    const [first] = checkLine('„Halt“ …', rules('Stop', latin));
    expect(first).toMatchObject({ code: 'sign', state: 'wrong', mend: '"Halt" ...' });
    const [none] = checkLine('渡し船', rules('Ferry', latin));
    expect(none).toMatchObject({ code: 'sign', mend: undefined });
  });

  describe('drawn with the fonts of the game', () => {
    const named = (name: string, signs: string, wide = 10): NamedFont => ({
      name,
      font: { form: 'TTF', name, widths: new Map([...signs].map((sign) => [sign.codePointAt(0)!, wide])) },
    });
    const drawn = (text: string, fonts: readonly NamedFont[], isSaid: boolean, width?: number) =>
      checkLine(text, rules('Ferry', { fonts: { fonts, isSaid }, width }));

    test('a sign that none of them has, with a spelling that they have', () => {
      const one = [named('talk.glyphs', 'Fahre')];
      const found = { code: 'font', mend: 'Fahre', what: 'ä (U+00E4) is not in talk.glyphs' };
      expect(drawn('Fähre', one, true)).toMatchObject([{ ...found, state: 'wrong' }]);
      expect(drawn('Fähre', one, false)).toMatchObject([{ ...found, state: 'look' }]);
      expect(drawn('Fähre', [named('talk.glyphs', 'Fhre')], true)).toMatchObject([{ mend: undefined }]);
      expect(drawn('łód', [named('talk.glyphs', 'lod')], true)).toMatchObject([{ mend: 'lod' }]);
    });

    test('a sign that some have', () => {
      const both = [named('talk.glyphs', 'Fähre'), named('title.glyphs', 'Fahre')];
      expect(drawn('Fähre', both, false)).toMatchObject([
        { state: 'look', what: 'ä (U+00E4) is not in title.glyphs' },
      ]);
      expect(drawn('Füre', both, false)).toMatchObject([{ what: 'ü (U+00FC) is not in any of 2 fonts' }]);
    });

    test('wider than its place, values and tags left out', () => {
      const one = [named('talk.glyphs', 'abc')];
      expect(drawn('abc', one, true, 30)).toEqual([]);
      expect(drawn('abca', one, true, 30)).toMatchObject([
        { code: 'too long', state: 'wrong', what: '40 wide in talk.glyphs, at most 30' },
      ]);
      expect(drawn('<b>abc</b>', one, true, 30).map(({ code }) => code)).toEqual(['added tag']);
      const [, wide] = drawn('abca{x}', one, true, 30);
      expect(wide).toMatchObject({ what: 'at least 40 wide in talk.glyphs, at most 30' });
      // Which of two it is drawn with is not known.
      expect(drawn('abca', [...one, ...one], true, 30)).toEqual([]);
    });

    test('nothing is said where no font is known', () => {
      expect(drawn('渡し船', [], true, 1)).toEqual([]);
    });
  });

  test('the widest of several lines counts', () => {
    const font = { form: 'TTF', name: '', widths: new Map([[0x61, 10]]) };
    expect(widthIn(font, 'aa\naaa\r\na')).toBe(30);
  });

  test('a name that the glossary has is asked for, as a word by itself', () => {
    const terms = [{ source: 'Reed', target: 'Schilf' }];
    expect(codes('Ein Rohr', 'A reed', { terms })).toEqual(['term']);
    expect(codes('Im schilf', 'In the reed', { terms })).toEqual([]);
    expect(codes('Lesen', 'Freedom', { terms })).toEqual([]);
  });

  test('what is wrong stands before what is worth a look', () => {
    const found = checkLine('Fährgeld?', rules('Fare {coins}.'));
    expect(found.map(({ state }) => state)).toEqual(['wrong', 'look']);
  });
});
