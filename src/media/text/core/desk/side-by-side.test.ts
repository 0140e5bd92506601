import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readOpenTable } from '../lines';
import { formOf, formsIn, idOf, LineIndex, missingForms, sideBySide, type TableColumn } from '.';

const tableOf = (text: string): TableColumn => ({ table: readOpenTable(Buffer.from(text))!, column: 0 });

describe('tables side by side', () => {
  test('lines of the source come first, then those that only the other has', () => {
    const made = sideBySide('t', tableOf('a\tA\nb\tB\n'), tableOf('c\tCe\nb\tBe\n'), [
      tableOf('a\tAh\n'),
      undefined,
    ]);
    expect(made.map(({ key, source, was, others }) => [key, source, was, others])).toEqual([
      ['a', 'A', undefined, ['Ah', undefined]],
      ['b', 'B', 'Be', [undefined, undefined]],
      ['c', undefined, 'Ce', [undefined, undefined]],
    ]);
  });

  test('namesakes go by their order, and are said to be such', () => {
    const made = sideBySide('t', tableOf('a\t1\na\t2\nb\t3\n'), tableOf('a\teins\na\tzwei\na\tdrei\n'), []);
    expect(made.map(({ key, nth, source, was, isTwice }) => [key, nth, source, was, isTwice])).toEqual([
      ['a', 0, '1', 'eins', true],
      ['a', 1, '2', 'zwei', true],
      ['b', 0, '3', undefined, false],
      ['a', 2, undefined, 'drei', true],
    ]);
  });

  test('every line is found by what tells it apart, in any tables', () => {
    const key = fc.stringMatching(/^[ab\0]{1,2}$/);
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constantFrom('t', 'u\0'), key, fc.nat(3))), (all) => {
        const lines = [
          ...new Map(
            all.map(([place, of, nth]) => [`${place}|${of}|${nth}`, { place, key: of, nth }]),
          ).values(),
        ];
        const index = new LineIndex(lines);
        lines.forEach((line, i) => expect(index.get(line)).toBe(i));
        expect(index.has({ place: 'x', key: 'a', nth: 0 })).toBe(false);
        expect(index.get({ place: 't', key: 'a', nth: 9 })).toBeUndefined();
      }),
    );
  });

  test('lines of different tables are told apart', () => {
    expect(idOf({ place: 'a', key: 'b', nth: 0 })).not.toBe(idOf({ place: 'a', key: 'b', nth: 1 }));
  });
});

describe('forms of counts', () => {
  test.each([
    ['eels_one', 'eels_', 'one', 'eels_few'],
    ['eels.Other', 'eels.', 'other', 'eels.Few'],
    ['EELS-MANY', 'EELS-', 'many', 'EELS-FEW'],
    ['eels[two]', 'eels[', 'two', 'eels[few]'],
    ['a/b zero', 'a/b ', 'zero', 'a/b few'],
  ])('%s is %s in the form %s', (key, base, form, few) => {
    const found = formOf(key)!;
    expect([found.base, found.form, found.with('few')]).toEqual([base, form, few]);
  });

  test.each(['one', 'lantern', 'eels[one', 'eels_one]', 'someone', '_other', ''])('%j is no form', (key) =>
    expect(formOf(key)).toBeUndefined(),
  );

  test('languages have theirs, as Unicode has them', () => {
    expect(formsIn('en')).toEqual(['one', 'other']);
    expect(formsIn('pl')).toEqual(['one', 'few', 'many', 'other']);
    expect(formsIn('ar')).toEqual(['zero', 'one', 'two', 'few', 'many', 'other']);
    expect(formsIn('ja')).toEqual(['other']);
    expect(formsIn('')).toEqual(['other']);
    expect(formsIn('?')).toEqual(['other']);
  });

  test('those that a table lacks are told by the form that all languages have', () => {
    const keys = ['eels_one', 'eels_other', 'boats_other', 'title'];
    expect(missingForms(keys, 'pl')).toEqual(new Map([['eels_other', ['eels_few', 'eels_many']]]));
    expect(missingForms(keys, 'de')).toEqual(new Map());
    expect(missingForms(['eels_one', 'eels_two'], 'pl')).toEqual(new Map());
  });
});
