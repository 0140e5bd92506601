import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { countOfPattern, expectedByChance, isTaken, namesOfPattern, pathStrings } from '.';

describe('patterns', () => {
  test.each([
    ['boat{08..11}_hull', ['boat08_hull', 'boat09_hull', 'boat10_hull', 'boat11_hull']],
    ['{2..0}', ['2', '1', '0']],
    ['{a..c}/{x,y}', ['a/x', 'a/y', 'b/x', 'b/y', 'c/x', 'c/y']],
    ['plain.txt', ['plain.txt']],
    ['{odd}', ['{odd}']],
    ['{z..a}', ['z']],
    ['a{,s}', ['a', 'as']],
  ])('%s', (pattern, names) => {
    expect([...namesOfPattern(pattern)]).toEqual(names);
    expect(countOfPattern(pattern)).toBe(names.length);
  });

  test.each(['{0..9999999}', '{0..99999}{0..99999}'])(
    '%s is more than can be tried, and says so',
    (pattern) => expect(() => [...namesOfPattern(pattern)]).toThrow(/at most/),
  );
});

describe('strings that look like paths', () => {
  const found = (text: string, encoding: BufferEncoding = 'latin1'): string[] => [
    ...pathStrings(new Uint8Array(Buffer.from(text, encoding))),
  ];

  test('are found between other bytes', () =>
    expect(
      found('\0\x01actors/odd/cape.sheet\0\x03{"a": "voice\\\\en\\\\otter.wav"} ok 7.5 ./boat.form\x7f'),
    ).toEqual(['actors/odd/cape.sheet', 'voice/en/otter.wav', 'boat.form']));

  test('also with a zero behind each sign', () =>
    expect(found('\x05\x00actors/odd/cape.sheet', 'utf16le')).toContain('actors/odd/cape.sheet'));

  test('numbers, words and dots alone are none', () =>
    expect(found('1.25 ... hello /// 3/4 a.b')).toEqual([]));

  test('a path in any noise comes out whole', () => {
    const step = fc.stringMatching(/^[a-z0-9_]{2,8}$/);
    const path = fc.tuple(step, step, step).map(([a, b, c]) => `${a}/${b}.x${c}`.slice(0, 30));
    const noise = fc.uint8Array({ maxLength: 50 }).map((bytes) => bytes.map((byte) => byte | 0x80));
    fc.assert(
      fc.property(path, noise, noise, (wanted, before, behind) => {
        fc.pre(/[a-z]/.test(wanted));
        const bytes = new Uint8Array([...before, ...Buffer.from(wanted), ...behind]);
        expect([...pathStrings(bytes)]).toContain(wanted);
      }),
    );
  });

  test('no bytes are a crash', () => {
    fc.assert(fc.property(fc.uint8Array({ maxLength: 400 }), (bytes) => void [...pathStrings(bytes)]));
  });
});

describe('what speaks for a guess', () => {
  const none = { kind: undefined, folder: false, neighbour: false };

  test('a long hash speaks for itself, unless the bytes are something else', () => {
    const expected = expectedByChance(1e6, 1e6, 64);
    expect(isTaken(none, expected)).toBe(true);
    expect(isTaken({ ...none, kind: false, folder: true, neighbour: true }, expected)).toBe(false);
  });

  test('a short one needs a second witness, over many guesses a third', () => {
    const few = expectedByChance(100, 1000, 32);
    const many = expectedByChance(1e6, 1e5, 32);
    expect(isTaken(none, few)).toBe(false);
    expect(isTaken({ ...none, folder: true }, few)).toBe(true);
    expect(isTaken({ ...none, folder: true }, many)).toBe(false);
    expect(isTaken({ ...none, folder: true, kind: true }, many)).toBe(true);
    expect(isTaken({ ...none, neighbour: true, folder: true }, many)).toBe(true);
  });
});
