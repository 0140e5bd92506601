import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { rowOf, wallRows } from './wall-rows';

test('each folder begins a row under its title', () => {
  const runs = [
    { folder: 'a/', count: 3 },
    { folder: 'b/', count: 1 },
  ];
  expect(wallRows(5, 2, runs)).toEqual([
    { sort: 'title', folder: 'a/', count: 3 },
    { sort: 'entries', from: 0, to: 2 },
    { sort: 'entries', from: 2, to: 3 },
    { sort: 'title', folder: 'b/', count: 1 },
    { sort: 'entries', from: 3, to: 4 },
    // What came to the list since.
    { sort: 'entries', from: 4, to: 5 },
  ]);
});

test('every picture is in one row, and is found in it', () => {
  const runs = fc.array(fc.record({ folder: fc.string(), count: fc.integer({ min: 1, max: 9 }) }));
  fc.assert(
    fc.property(
      fc.nat({ max: 60 }),
      fc.integer({ min: 1, max: 7 }),
      fc.option(runs, { nil: undefined }),
      (total, columns, parts) => {
        const rows = wallRows(total, columns, parts);
        const seen = rows.flatMap((row) =>
          row.sort === 'entries' ? Array.from({ length: row.to - row.from }, (_, i) => row.from + i) : [],
        );
        expect(seen).toEqual(Array.from({ length: total }, (_, i) => i));
        for (let i = 0; i < total; i++) {
          const row = rows[rowOf(rows, i)]!;
          expect(row.sort === 'entries' && row.from <= i && i < row.to).toBe(true);
        }
      },
    ),
  );
});
