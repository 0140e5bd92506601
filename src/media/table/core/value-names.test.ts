import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FormatError } from '@/core/bytes';
import { calledValue, parseValueNames } from './value-names';

const MOODS = 'values of: people.mood\nnames: { 0: calm, 1: wary, -1: none }\n';
const TRAITS = 'values of: recipes.from[].traits\nflags:\n  1: heavy\n  4: wet\n  4294967296: sealed\n';

describe('what numbers are called', () => {
  test('one of several', () => {
    const moods = parseValueNames(MOODS);
    expect([moods.table, moods.field, moods.areFlags]).toEqual(['people', 'mood', false]);
    expect([0, 1, -1, 2, 1.5].map((value) => calledValue(moods, value))).toEqual([
      ...['calm', 'wary', 'none', undefined, undefined],
    ]);
    expect(calledValue(moods, '0')).toBeUndefined();
    expect(calledValue(moods, undefined)).toBeUndefined();
  });

  test('each bit, also beyond 32, and what is left', () => {
    const traits = parseValueNames(TRAITS);
    expect(traits.field).toBe('from[].traits');
    expect(calledValue(traits, 5)).toBe('heavy, wet');
    expect(calledValue(traits, 4294967296 + 4 + 2)).toBe('wet, sealed, 2');
    expect(calledValue(traits, 2)).toBeUndefined();
    expect(calledValue(traits, 0)).toBeUndefined();
    expect(calledValue(traits, -4)).toBeUndefined();
    expect(calledValue(traits, 4.5)).toBeUndefined();
  });

  test('of any flags: exactly the bits that are set', () => {
    const names = Array.from({ length: 20 }, (_, i) => `  ${2 ** i}: bit${i}`);
    const all = parseValueNames(`values of: a.b\nflags:\n${names.join('\n')}\n`);
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 2 ** 20 - 1 }), (value) => {
        const said = calledValue(all, value)!.split(', ');
        expect(said.reduce((sum, name) => sum + 2 ** Number(name.slice(3)), 0)).toBe(value);
      }),
    );
  });

  test.each([
    ['values of: people\nnames: { 0: a }', /a table and its field/],
    ['values of: people.mood\nnames: {}', /at least one name/],
    ['values of: people.mood', /'names'/],
    ['values of: people.mood\nnames: { glad: a }', /a whole number/],
    ['values of: people.mood\nflags: { 3: a }', /a bit/],
    ['values of: people.mood\nflags: { 0: a }', /a bit/],
    ['values of: people.mood\nnames: { 1: a }\nflags: { 1: a }', /both/],
    ['values of: people.mood\nname: { 1: a }', /name/],
  ])('%s is refused', (text, why) => {
    expect(() => parseValueNames(text)).toThrow(FormatError);
    expect(() => parseValueNames(text)).toThrow(why);
  });
});
