import { describe, expect, test } from '@jest/globals';
import { encode as encodePack } from '@msgpack/msgpack';
import { encode as encodeCbor } from 'cborg';
import fc from 'fast-check';
import { FormatError } from '@/core/bytes';
import type { Cell } from '../cell';
import { readOpenTables } from '../read-open';
import { compareTables, mergeCells, openForms, sameCell, writeCells, type TableEdit } from './index';

const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
const textOf = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
const hexOf = (bytes: Uint8Array): string => Buffer.from(bytes).toString('hex');

const edit = (row: number, column: string, value: Cell, within: TableEdit['within'] = []): TableEdit => ({
  ...{ table: '', row, column, within, value },
});

/** The values of a table's rows, as they are read. */
const rowsOf = (bytes: Uint8Array, name: string, table = 0): Record<string, Cell | undefined>[] => {
  const { columns, count } = readOpenTables(bytes, name)!.tables[table]!;
  return Array.from({ length: count }, (_, row) =>
    Object.fromEntries(columns.map(({ name: column, cells }) => [column, cells[row]])),
  );
};

const error = (work: () => unknown): FormatError => {
  try {
    work();
  } catch (thrown) {
    if (thrown instanceof FormatError) return thrown;
    throw thrown;
  }
  throw new Error('Nothing was refused.');
};

describe('known answers', () => {
  test('writes a number of CBOR longer and shorter, and nothing else', () => {
    // [{"id": 1, "mood": 3}, {"id": 2, "mood": 500}]
    const bytes = Uint8Array.from(Buffer.from('82a262696401646d6f6f6403a262696402646d6f6f641901f4', 'hex'));
    expect(hexOf(writeCells(bytes, 'a.cbor', [edit(0, 'mood', 700)]))).toBe(
      '82a262696401646d6f6f641902bca262696402646d6f6f641901f4',
    );
    expect(hexOf(writeCells(bytes, 'a.cbor', [edit(1, 'mood', 0), edit(0, 'mood', 4)]))).toBe(
      '82a262696401646d6f6f6404a262696402646d6f6f6400',
    );
  });

  test('a number that is just beyond 53 bits, and held exactly, is the same read either way', () => {
    expect(sameCell(2 ** 53, 2n ** 53n)).toBe(true);
    expect(sameCell(2n ** 60n, 2 ** 60)).toBe(true);
    expect(sameCell(2n ** 53n + 1n, 2 ** 53)).toBe(false);
    expect(sameCell(0.5, 0n)).toBe(false);
    expect(sameCell(Number.POSITIVE_INFINITY, 2n ** 64n)).toBe(false);
    const made = writeCells(bytesOf('[{"a": 1}]'), 'a.json', [edit(0, 'a', 2 ** 53)]);
    expect(textOf(made)).toBe('[{"a": 9007199254740992}]');
  });

  test.each(['cbor', 'msgpack'])('writes beside numbers of 64 bits, and these, in %s', (form) => {
    const rows = [
      { hash: 2n ** 63n + 1n, less: -(2n ** 60n), name: 'a' },
      { hash: 2n ** 60n, less: 5, name: 'b' },
    ];
    const bytes = form === 'cbor' ? encodeCbor(rows) : encodePack(rows, { useBigInt64: true });
    const made = writeCells(bytes, `a.${form}`, [edit(0, 'name', 'other'), edit(1, 'hash', 2n ** 62n)]);
    expect(rowsOf(made, `a.${form}`)).toEqual([
      { ...rows[0], name: 'other' },
      { ...rows[1], hash: 2n ** 62n },
    ]);
  });

  test('keeps tags, lists without a length and floats of CBOR', () => {
    // self-described, [_ {_ "id": 1, "w": 1.5 (float32)}, ...]
    const bytes = Uint8Array.from(
      Buffer.from(
        'd9d9f79fbf6269640161 77fa3fc00000ffbf626964026177fa40000000ffff'.replaceAll(' ', ''),
        'hex',
      ),
    );
    const made = writeCells(bytes, 'a.leaf', [edit(1, 'w', 3)]);
    expect(hexOf(made)).toBe(hexOf(bytes).replace('fa40000000', 'fa40400000'));
    // What does not fit a float of four bytes takes eight.
    expect(rowsOf(writeCells(bytes, 'a.leaf', [edit(0, 'w', 0.1)]), 'a.leaf')[0]!.w).toBe(0.1);
  });

  test('writes values of MessagePack', () => {
    const bytes = encodePack({
      rows: [
        { id: 1, at: { x: 1.5, y: 2 } },
        { id: 2, at: { x: 2.5, y: 300 } },
      ],
    });
    const made = writeCells(bytes, 'a.msgpack', [
      { table: 'rows', row: 1, column: 'at', within: ['x'], value: 4 },
      { table: 'rows', row: 0, column: 'id', within: [], value: 70000 },
    ]);
    expect(rowsOf(made, 'a.msgpack')).toEqual([
      {
        id: 70000,
        at: new Map([
          ['x', 1.5],
          ['y', 2],
        ]),
      },
      {
        id: 2,
        at: new Map([
          ['x', 4],
          ['y', 300],
        ]),
      },
    ]);
    // The float stays one.
    expect(hexOf(made)).toContain('cb4010000000000000');
  });

  test('writes texts of each form where they stand', () => {
    const json = '{ // of the hall\n  "a": {"id": 1, "say": "x"},\n  "b": {"say": "y", "id":2.0}\n}\n';
    // Notes are no JSON that is read as a table; without them it is.
    const plain = json.replace(' // of the hall', '');
    expect(textOf(writeCells(bytesOf(plain), 'a.json', [edit(1, 'say', 'o "q"'), edit(1, 'id', 5)]))).toBe(
      plain.replace('"y"', '"o \\"q\\""').replace('2.0', '5.0'),
    );
    const yaml =
      '# rows\n- id: 1 # first\n  name: Odd\n  near: [2, 3]\n- id: 2\n  name: |\n    two\n    lines\n  near: [1]\n';
    expect(
      textOf(writeCells(bytesOf(yaml), 'a.yaml', [edit(0, 'near', 9, [1]), edit(1, 'name', 'Ibis')])),
    ).toBe(yaml.replace('3]', '9]').replace('|\n    two\n    lines\n', '"Ibis"\n'));
    const csv = 'id;name;price\r\n1;"rope; old";4\r\n\r\n2;ink\r\n';
    expect(textOf(writeCells(bytesOf(csv), 'a.csv', [edit(0, 'name', 'a "b"'), edit(1, 'price', 7)]))).toBe(
      'id;name;price\r\n1;"a ""b""";4\r\n\r\n2;ink;7\r\n',
    );
    const ini = '; of the boat\n[hull]\nwood=oak\nlong = 12\n[sail]\nwood=none\n';
    expect(textOf(writeCells(bytesOf(ini), 'a.ini', [{ ...edit(1, 'wood', 'ash') }]))).toBe(
      ini.replace('wood=none', 'wood=ash'),
    );
  });

  test('tells what differs in words of cells, by what rows are called', () => {
    const table = (text: string) => readOpenTables(bytesOf(text), 'a.json')!.tables[0]!;
    const before = table('[{"id":1,"n":[1,2]},{"id":2,"n":[3]},{"id":3,"n":[]}]');
    const after = table('[{"id":3,"n":[]},{"id":2,"n":[4]},{"id":4,"n":[0]}]');
    expect(compareTables(before, after, 'id')).toEqual({
      cells: [{ row: 1, rowAfter: 1, column: 'n', within: [0], before: 3, after: 4 }],
      ...{ added: [2], removed: [0], isMoved: true, columnsAdded: [], columnsRemoved: [] },
    });
    // Without a name for rows their number counts; values that stand twice are no name.
    expect(compareTables(before, after).cells.map(({ column, row }) => `${column}${row}`)).toEqual([
      ...['id0', 'n0', 'n1', 'id2', 'n2'],
    ]);
    expect(compareTables(before, after, 'n').added).toEqual([]);
  });
});

describe('refused', () => {
  test('says where and what to do', () => {
    const bytes = bytesOf('{"a": {"id": 1}, "b": {"id": 2, "x": 5}}');
    expect(error(() => writeCells(bytes, 'a.json', [edit(0, 'x', 1)])).facts).toMatchObject({
      file: 'a.json',
      fieldPath: 'row 1, x',
    });
    expect(error(() => writeCells(bytes, 'a.json', [edit(7, 'id', 1)])).code).toBe('not-writable');
    expect(error(() => writeCells(bytes, 'a.json', [edit(0, 'name of the row', 'c')])).code).toBe(
      'not-writable',
    );
    expect(error(() => writeCells(Uint8Array.of(1, 2, 3), 'a.bin', [edit(0, 'id', 1)])).code).toBe(
      'not-writable',
    );
  });

  test('what would make another table of it', () => {
    // The only row that shows the column to be of numbers.
    const csv = bytesOf('id,price\n1,4\n2,5\n');
    expect(error(() => writeCells(csv, 'a.csv', [edit(0, 'price', 'dear')])).facts.actual).toMatch(
      /otherwise/,
    );
    // A value below an anchor is said where it is, not where it is used.
    const yaml = bytesOf('- id: 1\n  at: &a {x: 1}\n- id: 2\n  at: *a\n');
    expect(error(() => writeCells(yaml, 'a.yaml', [edit(1, 'at', 5, ['x'])])).code).toBe('not-writable');
    expect(error(() => writeCells(yaml, 'a.yaml', [edit(0, 'at', 5, ['x'])])).facts.actual).toMatch(
      /otherwise/,
    );
    const ini = bytesOf('[a]\nx=1\n[b]\nx=2\n');
    expect(error(() => writeCells(ini, 'a.ini', [edit(0, 'x', 'true')])).code).toBe('not-writable');
  });
});

describe('put together', () => {
  const base = bytesOf('id,mood,home\n1,1,300\n2,1,301\n3,2,302\n');
  const changed = (...edits: TableEdit[]): Uint8Array => writeCells(base, 'people.csv', edits);

  test('different cells are no conflict, not even of one row', () => {
    const merged = mergeCells(
      base,
      [changed(edit(0, 'mood', 3)), changed(edit(0, 'home', 301), edit(2, 'mood', 0))],
      openForms('people.csv'),
    );
    expect(textOf(merged!.bytes)).toBe('id,mood,home\n1,3,301\n2,1,301\n3,0,302\n');
    expect(merged).toMatchObject({ taken: [1, 2], clashes: [] });
  });

  test('of one cell the last has its way, and it is told; the same value twice is none', () => {
    const merged = mergeCells(
      base,
      [changed(edit(0, 'mood', 3), edit(1, 'mood', 9)), changed(edit(0, 'mood', 4), edit(1, 'mood', 9))],
      openForms('people.csv'),
    );
    expect(textOf(merged!.bytes)).toBe('id,mood,home\n1,4,300\n2,9,301\n3,2,302\n');
    expect(merged!.clashes).toEqual([{ table: '', row: 0, column: 'mood', within: [], by: [0, 1] }]);
  });

  test('rows that come or go are not merged', () => {
    expect(
      mergeCells(
        base,
        [bytesOf(`${textOf(base)}4,1,300\n`), changed(edit(0, 'mood', 3))],
        openForms('people.csv'),
      ),
    ).toBe(undefined);
    expect(mergeCells(base, [Uint8Array.of(0xff, 0)], openForms('people.csv'))).toBe(undefined);
  });
});

const leaf = fc.oneof(
  fc.integer(),
  fc.double({ noNaN: true, noDefaultInfinity: true }).map((value) => (Object.is(value, -0) ? 0 : value)),
  fc.boolean(),
  fc.string(),
  fc.constant(null),
);
const documents = fc.array(
  fc.record({
    id: fc.integer(),
    text: leaf,
    list: fc.array(leaf, { maxLength: 4 }),
    // A package refuses one name that means something to JavaScript.
    within: fc.dictionary(
      fc.string().filter((name) => name !== '__proto__'),
      leaf,
      { maxKeys: 4, noNullPrototype: true },
    ),
  }),
  { minLength: 1, maxLength: 8 },
);

describe.each([
  ['a.cbor', (rows: unknown) => encodeCbor(rows)],
  ['a.msgpack', (rows: unknown) => encodePack(rows)],
  ['a.json', (rows: unknown) => bytesOf(JSON.stringify(rows, null, 1))],
])('any document of %s', (name, spelled) => {
  test('has the value that was written, and all else as it was', () => {
    fc.assert(
      fc.property(documents, fc.nat(), leaf, fc.nat(), (rows, at, value, which) => {
        const row = at % rows.length;
        const { list, within } = rows[row]!;
        const places: [string, TableEdit['within']][] = [
          ['text', []],
          ['id', []],
          ...list.map((_, i): [string, TableEdit['within']] => ['list', [i]]),
          ...Object.keys(within).map((key): [string, TableEdit['within']] => ['within', [key]]),
        ];
        const [column, inner] = places[which % places.length]!;
        const bytes = spelled(rows);
        const made = writeCells(bytes, name, [edit(row, column, value, inner)]);
        const before = readOpenTables(bytes, name)!.tables[0]!;
        const after = readOpenTables(made, name)!.tables[0]!;
        const { cells, added, removed } = compareTables(before, after);
        expect([added, removed]).toEqual([[], []]);
        expect(cells.length).toBeLessThanOrEqual(1);
        for (const change of cells) {
          expect(change).toMatchObject({ row, column, within: inner });
          expect(sameCell(change.after, value)).toBe(true);
        }
        // And back again, to the byte, where the form has one way to say it.
        const old =
          inner.length === 0
            ? rows[row]![column as 'text']
            : column === 'list'
              ? list[inner[0] as number]!
              : within[inner[0] as string]!;
        const back = readOpenTables(writeCells(made, name, [edit(row, column, old, inner)]), name)!
          .tables[0]!;
        expect(compareTables(before, back).cells).toEqual([]);
      }),
      { numRuns: 150 },
    );
  });

  test('that was cut or changed is refused or written, and never anything else', () => {
    const bytes = spelled([
      { id: 1, n: [1, 2, { x: 'y' }] },
      { id: 2, n: [] },
    ]);
    fc.assert(
      fc.property(fc.nat(bytes.length - 1), fc.nat(255), fc.boolean(), (at, byte, isCut) => {
        const wild = isCut ? bytes.slice(0, at) : Uint8Array.from(bytes, (was, i) => (i === at ? byte : was));
        try {
          expect(
            readOpenTables(writeCells(wild, name, [edit(0, 'id', 7)]), name)!.tables[0]!.count,
          ).toBeGreaterThan(0);
        } catch (thrown) {
          expect(thrown).toBeInstanceOf(FormatError);
        }
      }),
      { numRuns: 300 },
    );
  });
});
