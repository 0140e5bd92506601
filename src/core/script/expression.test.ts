import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { nodePrimitives } from '@/platform/node/primitives';
import { compileExpression } from './compile-expression';
import type { Evaluation } from './evaluation';
import { canonical } from './values';

const known = {
  parameters: new Set<string>(),
  enums: new Map<string, never>(),
  constants: new Map<string, number>([['UNIT', 16]]),
  keys: new Set(['game']),
  others: new Set(['size', 'flags']),
};
const context = {
  primitives: nodePrimitives,
  spend: () => undefined,
  spendHashed: () => undefined,
  fileSize: 1000,
  hasPart: () => false,
} as unknown as Evaluation;
const value = (text: string): unknown => compileExpression(text, known).run(context, undefined);

describe('expressions', () => {
  test.each([
    ['1 + 2 * 3', 7],
    ['(1 + 2) * 3', 9],
    ['0x10 | 1', 17],
    ['7 / 2', 3],
    ['-7 / 2', -4],
    ['-7 % 4', 1],
    ['1 << 40', 2 ** 40],
    ['0xffffffffffffffff & 0xff', 255],
    ['0x7fffffffffffffff + 1', 1n << 63n],
    ['5 > 3 and not (2 >= 3)', true],
    ["'a' + 'b' == 'ab'", true],
    ['if(1 == 2, 1 / 0, 4)', 4],
    ['file.size - 64', 936],
    ['UNIT * 2', 32],
    ['ceildiv(65537, 65536)', 2],
    ['exactdiv(96, 24)', 4],
    ['0.5 * 3', 1.5],
    ['2.5e2 == 250', true],
    ['1.0 / 4', 0],
    ['min(3, 1, 2) + max(3, 9)', 10],
    ['take(hex("00112233"), 1, 2) == hex("1122")', true],
    ['le(0x1234, 2) == hex("3412")', true],
    ['be(0x1234, 4) == hex("00001234")', true],
    ['reversed(hex("0102")) == hex("0201")', true],
    ["crc32('123456789') == 0xcbf43926", true],
    // Check values of the catalogue of parametrised CRC algorithms: SMBUS, ARC, BZIP2.
    ["crc('123456789', 8, 0x07, 0, 'plain', 0)", 0xf4],
    ["crc('123456789', 16, 0x8005, 0, 'reflected', 0)", 0xbb3d],
    ["crc('123456789', 32, 0x04c11db7, 0xffffffff, 'plain', 0xffffffff)", 0xfc891918],
  ])('%s', (text, expected) => {
    expect(value(text)).toEqual(expected);
  });

  test.each([
    ['1 +', 'a value'],
    ['constructor', 'a field, part or constant'],
    ['toString', 'a field, part or constant'],
    ['__proto__', 'a field, part or constant'],
    ['file.constructor', 'file.size, file.name'],
    ['valueOf(1)', 'a function'],
    ['siez', "Did you mean 'size'?"],
    ['key.gme', "Did you mean 'game'?"],
    ['crc3(1)', "Did you mean 'crc32'?"],
    ['1 ? 2', 'an operator'],
    ['take(1)', 'expected 3 arguments'],
    [`${'('.repeat(200)}1`, 'less nesting'],
  ])('%s is refused with a hint', (text, hint) => {
    expect(() => value(text)).toThrow(hint);
  });

  test.each(['1 / 0', '5 % 0', '1 << 65', "'a' < 1", '(1 << 64) * (1 << 64) * 2'])(
    '%s fails in words',
    (text) => {
      expect(() => value(text)).toThrow(/has to be|cannot be/);
    },
  );

  test('whole numbers agree with bigints and have one form', () => {
    const whole = fc.bigInt(-(1n << 63n), (1n << 63n) - 1n);
    fc.assert(
      fc.property(whole, whole, fc.constantFrom('+', '-', '&', '|', '^'), (a, b, operator) => {
        const expected = { '+': a + b, '-': a - b, '&': a & b, '|': a | b, '^': a ^ b }[operator]!;
        const spell = (n: bigint): string => (n < 0n ? `(0 - ${-n})` : `${n}`);
        expect(value(`${spell(a)} ${operator} ${spell(b)}`)).toEqual(canonical(expected));
      }),
    );
  });

  test('any text is parsed or refused, never worse', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom(...'()[].,+-*/%<>=!&|^~ \'"0x9aUNITsize'), maxLength: 40 }),
        (text) => {
          try {
            compileExpression(text, known);
          } catch (error) {
            expect((error as Error).name).toBe('FormatError');
          }
        },
      ),
    );
  });
});
