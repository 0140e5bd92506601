import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FormatError } from '@/core/bytes';
import type { Cell } from '../cell';
import { tablesIn } from '../data-table';
import { fieldsOf } from '../fields';
import { guessLinks, keyFields } from '../links';
import { guessParts, Levels, parsePartsWords, spelledParts, type Level, type PartsWords } from './index';

const cellOf = (value: unknown): Cell =>
  Array.isArray(value)
    ? value.map(cellOf)
    : typeof value === 'object' && value !== null
      ? new Map(Object.entries(value).map(([key, one]) => [key, cellOf(one)]))
      : (value as Cell);

function world(tables: Record<string, unknown>) {
  const made = Object.entries(tables).map(([id, rows]) => {
    const [table] = tablesIn(cellOf(rows));
    return { id, table: table!, fields: fieldsOf(table!), count: table!.count };
  });
  return { tables: made, followed: guessLinks(made).filter(({ isSure }) => isSure), keys: keyFields(made) };
}
const isTable = (id: string, said: string): boolean => id === said;

interface Piece {
  readonly id: number;
  readonly name: string;
  readonly parts: readonly {
    readonly is: number;
    readonly x: number;
    readonly y: number;
    readonly z: number;
    readonly turn: number;
  }[];
}
const part = (is: number, x: number, y: number, z: number, turn = 0) => ({ is, x, y, z, turn });
const pieces: Piece[] = [
  { id: 9101, name: 'plank', parts: [] },
  { id: 9102, name: 'post', parts: [] },
  { id: 9103, name: 'lamp', parts: [] },
  { id: 9104, name: 'lamp post', parts: [part(9102, 0, 0, 0), part(9103, 1, 0, 2)] },
  { id: 9105, name: 'rail', parts: [part(9104, 0, 0, 0), part(9104, 4, 0, 0, 180), part(9101, 2, 0, 1)] },
  { id: 9106, name: 'bell', parts: [] },
  { id: 9107, name: 'rope', parts: [] },
];
const jetty = [
  { id: 7001, under: 0, piece: 9101, x: 0, y: 0, z: 0, turn: 0 },
  { id: 7002, under: 7001, piece: 9104, x: 10, y: 0, z: 1, turn: 90 },
  { id: 7003, under: 7002, piece: 9106, x: 0, y: 3, z: 0, turn: 0 },
  { id: 7004, under: 0, piece: 9105, x: 40, y: 20, z: 0, turn: 90 },
  { id: 7005, under: 7003, piece: 9107, x: 0, y: 0, z: 1, turn: -30 },
  { id: 7006, under: 7001, piece: 9102, x: 5, y: 5, z: 2, turn: 0 },
];
const spelled = (source: ReturnType<typeof world>, { parts }: Level): string[] =>
  parts.map(({ table, row, item, parent, at, turn, stop, is }) => {
    const called = is[0]
      ? String(source.tables[is[0].table]!.table.columns[1]!.cells[is[0].row] as string)
      : '';
    const where = at.map((one) => Math.round(one * 100) / 100 + 0).join(' ');
    return `${parent} ${source.tables[table]!.id}:${row}${item === undefined ? '' : `.${item}`} ${called} ${where} ${turn}${stop ? ` ${stop}` : ''}`;
  });

describe('a level', () => {
  const source = world({ pieces, jetty });
  const words = guessParts(source);

  test('is found by where its rows stand, what they are and what they hang on', () => {
    expect(words).toEqual([
      {
        table: 'pieces',
        list: 'parts',
        in: undefined,
        under: undefined,
        is: ['is'],
        at: ['x', 'y', 'z'],
        turn: 'turn',
        up: 'z',
      },
      {
        table: 'jetty',
        list: undefined,
        in: undefined,
        under: 'under',
        is: ['piece'],
        at: ['x', 'y', 'z'],
        turn: 'turn',
        up: 'z',
      },
    ]);
  });

  test('is put together: what hangs on others, and what pieces are made of, each where it stands', () => {
    const levels = new Levels(source, words, isTable);
    expect(levels.has({ table: 1, row: -1 })).toBe(true);
    expect(levels.has({ table: 1, row: 0 })).toBe(false);
    expect(levels.has({ table: 0, row: 3 })).toBe(true);
    const level = levels.assemble({ table: 1, row: -1 });
    expect(level.axes).toEqual(['x', 'y', 'z']);
    expect(spelled(source, level)).toEqual([
      '-1 jetty:0 plank 0 0 0 0',
      '0 jetty:1 lamp post 10 0 1 90',
      // The bell hangs on what is turned a quarter: three along becomes three back.
      '1 jetty:2 bell 7 0 1 90',
      '2 jetty:4 rope 7 0 2 60',
      '1 pieces:3.0 post 10 0 1 90',
      '1 pieces:3.1 lamp 10 1 3 90',
      '0 jetty:5 post 5 5 2 0',
      '-1 jetty:3 rail 40 20 0 90',
      '7 pieces:4.0 lamp post 40 20 0 90',
      '8 pieces:3.0 post 40 20 0 90',
      '8 pieces:3.1 lamp 40 21 2 90',
      '7 pieces:4.1 lamp post 40 24 0 270',
      '11 pieces:3.0 post 40 24 0 270',
      '11 pieces:3.1 lamp 40 23 2 270',
      '7 pieces:4.2 plank 40 22 1 90',
    ]);
  });

  test('of several rows each has its own, by the field that says where a part belongs', () => {
    const levels = [
      { id: 8101, name: 'jetty' },
      { id: 8102, name: 'raft' },
      { id: 8103, name: 'tower' },
    ];
    const stands = Array.from({ length: 9 }, (_, i) => ({
      level: 8101 + (i % 2),
      piece: 9101 + (i % 7),
      x: i * 3,
      z: -i,
    }));
    const own = world({ pieces, levels, stands });
    const found = guessParts(own).filter(({ table }) => table === 'stands');
    expect(found).toEqual([
      {
        table: 'stands',
        list: undefined,
        in: 'level',
        under: undefined,
        is: ['piece'],
        at: ['x', 'z'],
        turn: undefined,
        up: undefined,
      },
    ]);
    const built = new Levels(own, found, isTable);
    const table = own.tables.findIndex(({ id }) => id === 'levels');
    expect([0, 1, 2].map((row) => built.assemble({ table, row }).parts.length)).toEqual([5, 4, 0]);
  });

  test('whose pieces hold themselves, whose parts hang on themselves, and one without end', () => {
    const round = pieces.map((one) => (one.id === 9102 ? { ...one, parts: [part(9105, 0, 0, 0)] } : one));
    const circle = world({ pieces: round, jetty });
    const levels = new Levels(circle, guessParts(circle), isTable);
    const told = spelled(circle, levels.assemble({ table: 1, row: -1 }));
    expect(told.some((line) => line.endsWith('goes in a circle'))).toBe(true);
    const selves = world({
      pieces,
      jetty: jetty.map((one, i) => ({ ...one, under: [7001, 7003, 7002, 0, 7003, 7001][i]! })),
    });
    const own = new Levels(selves, guessParts(selves), isTable).assemble({ table: 1, row: -1 });
    expect(own.parts.filter(({ table }) => table === 1)).toHaveLength(6);
    expect(own.parts.filter(({ stop }) => stop === 'hangs on itself')).toHaveLength(1);
    const deep = Array.from({ length: 5000 }, (_, i) => ({
      ...jetty[i % 6]!,
      id: 7001 + i,
      under: i === 0 ? 0 : 7000 + i,
    }));
    const chain = world({ pieces, jetty: deep });
    const long = new Levels(chain, guessParts(chain), isTable).assemble({ table: 1, row: -1 });
    expect(long.isCut).toBe(true);
    expect(long.parts.some(({ stop }) => stop === 'too deep')).toBe(true);
    expect(long.parts.some(({ stop }) => stop === 'hangs on itself')).toBe(false);
  });

  test('of pieces that grow without bounds is cut', () => {
    const grown = Array.from({ length: 20 }, (_, i) => ({
      ...{ id: 9101 + i, name: `piece ${i}` },
      parts: i === 0 ? [] : Array.from({ length: 8 }, (_, n) => part(9100 + i, n, n, 0)),
    }));
    const many = world({ pieces: grown });
    const level = new Levels(many, guessParts(many), isTable).assemble({ table: 0, row: 19 });
    expect(level.isCut).toBe(true);
    expect(level.parts).toHaveLength(20_000);
  });

  test('stands as it is turned, however deep: lengths stay, and turns add up', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: -360, max: 360 }), fc.integer({ min: -50, max: 50 })), {
          minLength: 2,
          maxLength: 12,
        }),
        (turns) => {
          const rows = turns.map(([turn, x], i) => ({
            id: 7001 + i,
            under: i === 0 ? 0 : 7000 + i,
            piece: 9101 + (i % 7),
            x,
            y: 0,
            z: 0,
            turn,
          }));
          const chain = world({ pieces, jetty: rows });
          const said: PartsWords[] = [
            {
              table: 'jetty',
              list: undefined,
              in: undefined,
              under: 'under',
              is: [],
              at: ['x', 'y', 'z'],
              turn: 'turn',
              up: 'z',
            },
          ];
          const link = {
            from: 1,
            field: chain.tables[1]!.fields.findIndex(({ path }) => path === 'under'),
            to: 1,
            by: 0,
          };
          const { parts } = new Levels({ ...chain, followed: [link] }, said, isTable).assemble({
            table: 1,
            row: -1,
          });
          expect(parts).toHaveLength(rows.length);
          let turn = 0;
          for (const [i, one] of parts.entries()) {
            turn += rows[i]!.turn;
            expect(Math.abs(((((one.turn - turn) % 360) + 540) % 360) - 180)).toBeLessThan(1e-6);
            const before = parts[i - 1]?.at ?? [0, 0, 0];
            const length = Math.hypot(one.at[0] - before[0], one.at[1] - before[1]);
            expect(length).toBeCloseTo(Math.abs(rows[i]!.x), 6);
          }
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('words of parts', () => {
  test('are read again as they are spelled', () => {
    const words: PartsWords = {
      ...{
        table: 'levels/jetty.layout',
        list: 'my parts',
        in: undefined,
        under: 'under',
        is: ['piece', 'a b'],
      },
      ...{ at: ['x', 'y', 'z'], turn: 'turn', up: 'z' },
    };
    expect(parsePartsWords(spelledParts(words))).toEqual(words);
    expect(parsePartsWords('parts of: a\nat: [x, z]\n')).toMatchObject({ table: 'a', is: [], up: undefined });
  });

  test.each([
    ['at: [x, y]', 'parts of'],
    ['parts of: a', 'at'],
    ['parts of: a\nat: x', 'two or three'],
    ['parts of: a\nat: [x, y, z, w]', 'two or three'],
    ['up: z\nparts of: a\nat: [x, y]', 'one of x, y'],
    ['parts of: a\nat: [x, y]\nstands: z', 'stands'],
  ])('are refused where they are wrong: %j', (text, said) => {
    expect(() => parsePartsWords(text)).toThrow(FormatError);
    expect(() => parsePartsWords(text)).toThrow(new RegExp(said));
  });
});
