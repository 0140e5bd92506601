import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { fitsPattern, fitsPatternBytes, longestLiteral } from './glob';

describe('patterns', () => {
  test.each([
    ['*.sheet', 'cape.sheet', true],
    ['*.sheet', 'cape.sheets', false],
    ['c?pe', 'cape', true],
    ['c?pe', 'cpe', false],
    ['*', '', true],
    ['?', '', false],
    ['a*b*c', 'aXbYbZc', true],
    ['a*b*c', 'axc', false],
  ])('%s over %s', (pattern, text, fits) => expect(fitsPattern(pattern, text)).toBe(fits));

  test('as an expression says, over texts and over bytes in any case', () => {
    const sign = fc.constantFrom('a', 'b', '*', '?');
    fc.assert(
      fc.property(
        fc.string({ unit: sign, maxLength: 8 }),
        fc.string({ unit: fc.constantFrom('a', 'b', 'A'), maxLength: 12 }),
        (pattern, text) => {
          const expression = new RegExp(`^${pattern.replaceAll('?', '.').replaceAll('*', '.*')}$`);
          const fits = expression.test(text.toLowerCase());
          expect(fitsPattern(pattern, text.toLowerCase())).toBe(fits);
          const bytes = new Uint8Array(Buffer.from(`x${text}y`));
          expect(fitsPatternBytes(new Uint8Array(Buffer.from(pattern)), bytes, 1, 1 + text.length)).toBe(
            fits,
          );
        },
      ),
    );
  });

  test('bytes beyond ASCII are left to texts', () => {
    const bytes = new Uint8Array(Buffer.from('é'));
    expect(fitsPatternBytes(Uint8Array.of(63), bytes, 0, bytes.length)).toBeUndefined();
  });

  test('one that goes back and forth takes no time', () => {
    expect(fitsPattern('*a'.repeat(300), 'a'.repeat(20_000) + 'b')).toBe(false);
  });

  test('the longest piece without a wildcard', () => {
    expect(longestLiteral('*_hull?.sheet')).toBe('.sheet');
    expect(longestLiteral('***')).toBe('');
  });
});
