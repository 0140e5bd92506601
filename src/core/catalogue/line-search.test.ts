import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { LineSearch, MOST_PIECE_BYTES } from './line-search';

const encoder = new TextEncoder();

function searchOver(lines: readonly string[]): LineSearch {
  const bytes = lines.map((line) => encoder.encode(`${line}\n`));
  const search = new LineSearch(
    bytes.reduce((sum, { length }) => sum + length, 0),
    lines.length,
  );
  let at = 0;
  bytes.forEach((line, i) => {
    search.lines.set(line, at);
    at += line.length;
    search.ends[i] = at - 1;
  });
  return search;
}

function found(search: LineSearch, piece: string): number[] {
  const mask = search.find(encoder.encode(piece.toLowerCase()), encoder.encode(piece.toUpperCase()));
  return [...mask].flatMap((is, i) => (is ? [i] : []));
}

describe('which lines have a piece', () => {
  test('in any case, at either end, never across a line end', () => {
    const search = searchOver(['actors/Odd/cape.sheet', 'actors/odd', '', 'x', 'cape', 'sheetactors']);
    expect(found(search, 'ODD')).toEqual([0, 1]);
    expect(found(search, 'cape')).toEqual([0, 4]);
    expect(found(search, 'x')).toEqual([3]);
    expect(found(search, 'sheetactors')).toEqual([5]);
    expect(found(search, 'oddx')).toEqual([]);
    expect(found(search, 'actors')).toEqual([0, 1, 5]);
  });

  test('signs that are no letters fit only as they are', () => {
    const search = searchOver(['a[1]', 'a{1}', 'a@1', 'a`1']);
    expect(found(search, 'a[')).toEqual([0]);
    expect(found(search, '{1')).toEqual([1]);
    expect(found(search, 'a@')).toEqual([2]);
    expect(found(search, 'a`')).toEqual([3]);
  });

  test('letters beyond ASCII are found by their bytes', () => {
    const search = searchOver(['мост/фонарь', 'мост', 'brücke']);
    expect([...search.find(encoder.encode('фонарь'), encoder.encode('фонарь'))].indexOf(1)).toBe(0);
    expect([...search.find(encoder.encode('ü'), encoder.encode('ü'))]).toEqual([0, 0, 1]);
  });

  test('as a plain search finds them', () => {
    const line = fc.string({ unit: fc.constantFrom('a', 'B', 'b', '/', '.', '0'), maxLength: 60 });
    const piece = fc.string({ unit: fc.constantFrom('a', 'b', '/', '.', '0'), minLength: 1, maxLength: 5 });
    fc.assert(
      fc.property(fc.array(line, { maxLength: 40 }), piece, (lines, wanted) => {
        const plain = lines.flatMap((text, i) => (text.toLowerCase().includes(wanted) ? [i] : []));
        expect(found(searchOver(lines), wanted)).toEqual(plain);
      }),
      { numRuns: 300 },
    );
  });

  test('one memory serves many searches', () => {
    const search = searchOver(['one', 'two']);
    expect(found(search, 'one')).toEqual([0]);
    expect(found(search, 'two')).toEqual([1]);
    expect(found(search, 'o')).toEqual([0, 1]);
  });

  test('nothing, and more than there is room for, is refused', () => {
    const search = searchOver(['one']);
    const long = new Uint8Array(MOST_PIECE_BYTES + 1).fill(97);
    expect(() => search.find(new Uint8Array(0), new Uint8Array(0))).toThrow(RangeError);
    expect(() => search.find(long, long)).toThrow(RangeError);
    expect(() => search.find(long.subarray(0, 2), long.subarray(0, 3))).toThrow(RangeError);
  });
});
