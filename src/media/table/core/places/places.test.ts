import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FormatError } from '@/core/bytes';
import type { Cell } from '../cell';
import { tablesIn } from '../data-table';
import { fieldsOf } from '../fields';
import { guessLinks, keyFields } from '../links';
import {
  CORNERS,
  guessMaps,
  middleOf,
  NO_TILE,
  parseMapWords,
  readMap,
  sizeOf,
  spelledMap,
  spotAt,
  UNKNOWN_TILE,
} from './index';

const cellOf = (value: unknown): Cell =>
  Array.isArray(value)
    ? value.map(cellOf)
    : typeof value === 'object' && value !== null
      ? new Map(Object.entries(value).map(([key, one]) => [key, cellOf(one)]))
      : (value as Cell);

/** Tables of a small world, with what points where. */
function world(tables: Record<string, unknown>) {
  const made = Object.entries(tables).map(([id, rows]) => {
    const [table] = tablesIn(cellOf(rows));
    return { id, table: table!, fields: fieldsOf(table!), count: table!.count };
  });
  return { tables: made, followed: guessLinks(made).filter(({ isSure }) => isSure), keys: keyFields(made) };
}

const grounds = Array.from({ length: 6 }, (_, i) => ({ id: 50 + i, name: `ground ${i}` }));
const tilesOf = (count: number, seed: number): number[] =>
  Array.from({ length: count }, (_, i) => 50 + ((i * 7 + seed) % 6));
const places = [
  { id: 300, name: 'jetty', across: 6, tiles: tilesOf(24, 1), view: { q: 0, r: 0, wide: 4, high: 3 } },
  { id: 301, name: 'moor', across: 8, tiles: tilesOf(40, 2), view: { q: 1, r: 1, wide: 5, high: 4 } },
  { id: 302, name: 'gate', across: 5, tiles: tilesOf(20, 3), view: { q: 0, r: 0, wide: 5, high: 4 } },
];
const people = Array.from({ length: 8 }, (_, i) => ({ id: 100 + i, name: `person ${i}` }));
const stirs = Array.from({ length: 12 }, (_, i) => ({
  ...{ id: 700 + i, place: 300 + (i % 3), q: i === 4 ? -3 : i % 5, r: i % 4, who: 100 + (i % 8) },
}));
const isTable = (id: string, said: string): boolean => id === said;

describe('spots', () => {
  const any = fc.integer({ min: -500, max: 500 });
  test.each(['squares', 'hexagons'] as const)(
    'of %s: a point within one is in it, and of no other',
    (grid) => {
      fc.assert(
        fc.property(
          any,
          any,
          fc.double({ min: 0, max: 0.95, noNaN: true }),
          fc.nat(5),
          (across, down, out, corner) => {
            const middle = middleOf(grid, { across, down });
            const corners = CORNERS[grid];
            const { x, y } = corners[corner % corners.length]!;
            expect(spotAt(grid, { x: middle.x + out * x, y: middle.y + out * y })).toEqual({ across, down });
          },
        ),
        { numRuns: 500 },
      );
    },
  );

  test('of hexagons: six others are as far as one is wide, and all are within their map', () => {
    for (const spot of [
      { across: 2, down: 2 },
      { across: 2, down: 3 },
    ]) {
      const own = middleOf('hexagons', spot);
      let near = 0;
      for (let across = 0; across < 6; across++)
        for (let down = 0; down < 6; down++) {
          const other = middleOf('hexagons', { across, down });
          const far = Math.hypot(other.x - own.x, other.y - own.y);
          if (Math.abs(far - 1) < 1e-9) near++;
          else expect(far === 0 || far > 1.5).toBe(true);
        }
      expect(near).toBe(6);
    }
    const { x, y } = sizeOf('hexagons', 4, 3);
    const last = middleOf('hexagons', { across: 3, down: 1 });
    expect(x).toBeCloseTo(last.x + 0.5);
    expect(y).toBeCloseTo(middleOf('hexagons', { across: 0, down: 2 }).y + 1 / Math.sqrt(3));
    expect(sizeOf('hexagons', 3, 0)).toEqual({ x: 3, y: 0 });
    expect(sizeOf('squares', 3, 2)).toEqual({ x: 3, y: 2 });
  });
});

describe('maps', () => {
  test('are found by what points where, and said so that somebody can say it otherwise', () => {
    const found = guessMaps(world({ grounds, places, people, stirs }));
    expect(found).toEqual([
      {
        ...{ table: 'places', grid: 'hexagons', wide: 'across', layers: ['tiles'] },
        seen: { across: 'view.q', down: 'view.r', wide: 'view.wide', high: 'view.high' },
        stand: [{ table: 'stirs', place: 'place', across: 'q', down: 'r', is: ['who'] }],
      },
    ]);
    expect(parseMapWords(spelledMap(found[0]!))).toEqual(found[0]);
    // A width that does not divide it, no tiles that mean anything, tiles in some rows only: no map.
    const without = places.map((one) => ({ ...one, across: 7 }));
    expect(guessMaps(world({ grounds, places: without, people, stirs }))).toEqual([]);
    expect(guessMaps(world({ places, people, stirs }))).toEqual([]);
    const some = places.map((one, i) => (i === 0 ? { ...one, tiles: [] } : one));
    expect(guessMaps(world({ grounds, places: some, people, stirs }))).toEqual([]);
  });

  test('have their tiles as rows, what stands on them wherever it is, and the part that is seen', () => {
    const own = world({ grounds, places, people, stirs });
    const [words] = guessMaps(own);
    const map = readMap(own, words!, { table: 1, row: 1 }, isTable);
    expect([map.wide, map.high, map.grid]).toEqual([8, 5, 'hexagons']);
    expect(map.seen).toEqual({ across: 1, down: 1, wide: 5, high: 4 });
    expect([...map.layers[0]!.tiles.slice(0, 3)]).toEqual([2, 3, 4]);
    expect(map.things.map(({ row, across, down }) => [row, across, down])).toEqual([
      [1, 1, 1],
      [4, -3, 0],
      [7, 2, 3],
      [10, 0, 2],
    ]);
    expect(map.things[1]!.is).toEqual([{ table: 2, row: 4 }]);
  });

  test('with words of somebody: several layers, a width as a number, numbers that mean no row', () => {
    const rows = [{ id: 1, low: [50, 51, 99, 0, 52], high: [1, 2, 3, 4, 5] }];
    const own = world({
      grounds,
      rows,
      other: [
        { id: 9, low: [50] },
        { id: 10, low: [51] },
      ],
    });
    const words = parseMapWords('map of: rows\nwide: 2\ntiles: [low, high]\n');
    const withLink = {
      ...own,
      followed: [
        { from: 1, field: own.tables[1]!.fields.findIndex(({ path }) => path === 'low[]'), to: 0, by: 0 },
      ],
    };
    const map = readMap(withLink, words, { table: 1, row: 0 }, isTable);
    expect([map.wide, map.high, map.grid]).toEqual([2, 3, 'squares']);
    expect(map.layers.map(({ tiles }) => [...tiles])).toEqual([
      [0, 1, UNKNOWN_TILE, NO_TILE, 2],
      [1, 2, 3, 4, 5],
    ]);
    expect(map.layers.map(({ table }) => table)).toEqual([0, undefined]);
  });

  test('what is wrong is told with its place', () => {
    const failure = (work: () => unknown): string => {
      try {
        work();
      } catch (error) {
        if (error instanceof FormatError) return error.message;
        throw error;
      }
      return 'nothing';
    };
    expect(failure(() => parseMapWords('map of: a\nwide: 0\ntiles: t'))).toMatch(/line 2.*1 to 1000000/s);
    expect(failure(() => parseMapWords('map of: a\nwide: 3\ntiles: []'))).toMatch(/a field with tiles/);
    expect(failure(() => parseMapWords('map of: a\nwide: 3\ntiles: t\ngrid: rings'))).toMatch(
      /squares or hexagons/,
    );
    expect(failure(() => parseMapWords('map of: a\nwide: 3\ntiles: t\nstand: [{ in: b }]'))).toMatch(/place/);
    const own = world({
      rows: [
        { id: 1, tiles: [1, 2], w: 0 },
        { id: 2, tiles: 'x', w: 3 },
      ],
    });
    const at = (row: number, text: string) => () =>
      readMap(own, parseMapWords(`map of: rows\n${text}`), { table: 0, row }, isTable);
    expect(failure(at(0, 'wide: w\ntiles: tiles'))).toMatch(/w of row 1.*a number of spots/s);
    expect(failure(at(1, 'wide: w\ntiles: tiles'))).toMatch(/a list of tiles/);
    expect(failure(at(0, 'wide: none\ntiles: tiles'))).toMatch(/a number of spots/);
    // A width beyond all spots is one row of them.
    const map = readMap(
      own,
      parseMapWords('map of: rows\nwide: 100000\ntiles: tiles'),
      { table: 0, row: 0 },
      isTable,
    );
    expect([map.wide, map.high]).toEqual([2, 1]);
  });
});
