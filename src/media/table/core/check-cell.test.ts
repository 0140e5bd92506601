import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { checkCell, readValue, type CellRules } from './check-cell';

const value = (text: string, before: Parameters<typeof readValue>[1]): unknown => {
  const read = readValue(text, before);
  return 'value' in read ? read.value : `refused: ${read.finding.what}`;
};

describe('what somebody writes', () => {
  test('is of the sort that stands there', () => {
    expect(value(' 7 ', 1)).toBe(7);
    expect(value('-1.5e3', 1)).toBe(-1500);
    expect(value('007', 'a')).toBe('007');
    expect(value(' a ', 'a')).toBe(' a ');
    expect(value('TRUE', false)).toBe(true);
    expect(value('', null)).toBeNull();
    expect(value('x', null)).toBe('x');
    expect(value('5', null)).toBe(5);
    expect(value('0a ff', Uint8Array.of(1))).toEqual(Uint8Array.of(10, 255));
    expect(value('18446744073709551615', 1n)).toBe(2n ** 64n - 1n);
    expect(value('9007199254740993', 1)).toBe(9007199254740993n);
    expect(value('9007199254740994', 1)).toBe(9007199254740994);
    expect(value('9007199254740994', 1n)).toBe(9007199254740994n);
  });

  test('is refused with what is wrong, whatever is said', () => {
    for (const [text, before] of [
      ['', 1],
      ['1,5', 1],
      ['0x10', 1],
      ['Infinity', 1],
      ['1e999', 1],
      ['18446744073709551617', 1],
      ['18446744073709551616', 1n],
      ['yes', true],
      ['0', true],
      ['0af', Uint8Array.of(1)],
      ['1', [1]],
      ['1', new Map()],
      ['1', undefined],
    ] as const) {
      const read = readValue(text, before);
      expect('finding' in read && read.finding).toMatchObject({ state: 'wrong', isRefused: true });
    }
  });

  test('any number comes back as it was', () => {
    const any = { noNaN: true, noDefaultInfinity: true };
    const whole = fc.double({ ...any, min: -1e21, max: 1e21 }).map((one) => Math.trunc(one) || 0);
    const numbers = fc.oneof(fc.double(any), whole);
    fc.assert(
      fc.property(numbers, (number) => {
        const read = value(String(number), 1);
        expect(read).toBe(Object.is(number, -0) ? 0 : number);
      }),
    );
  });
});

test('nothing is found where there is nothing beside it, and of none there is nothing to mean', () => {
  const rules: CellRules = {
    before: 1,
    field: undefined,
    means: undefined,
    names: undefined,
    key: undefined,
  };
  expect(checkCell(5, rules)).toEqual([]);
  expect(checkCell(5, { ...rules, field: { numbers: Float64Array.of(1) } })).toEqual([]);
  const means = { table: 'places', has: () => false };
  expect([0, -1, '', null].map((none) => checkCell(none, { ...rules, means }))).toEqual([[], [], [], []]);
  expect(checkCell(5, { ...rules, means }).map(({ what }) => what)).toEqual(['5 is no row of places']);
});
