import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { BytesBuilder } from '../testing/bytes-builder';
import { failure } from '../testing/holds';
import { openWith } from '../testing/round-trip';
import { parseScript, RowTable } from './index';

/** Rows of any flat shape, read through the generated loop, against the values that went in. */
type Kind =
  'u8' | 'u16' | 'u24' | 'u32' | 'u64' | 'i8' | 'i16' | 'i24' | 'i32' | 'i64' | 'counted' | 'ended' | 'fixed';
const KINDS: readonly Kind[] = [
  ...(['u8', 'u16', 'u24', 'u32', 'u64', 'i8', 'i16', 'i24', 'i32', 'i64'] as const),
  ...(['counted', 'ended', 'fixed'] as const),
];

interface Table {
  readonly kinds: readonly Kind[];
  readonly rows: readonly (readonly (bigint | string)[])[];
  readonly isBig: boolean;
  readonly isCounted: boolean;
}

const valueOf = (kind: Kind): fc.Arbitrary<bigint | string> => {
  if (kind === 'counted' || kind === 'ended') return fc.stringMatching(/^[a-z]{0,9}$/);
  if (kind === 'fixed') return fc.stringMatching(/^[a-z]{0,4}$/);
  const bits = BigInt(kind.slice(1));
  return kind.startsWith('u')
    ? fc.bigInt(0n, (1n << bits) - 1n)
    : fc.bigInt(-(1n << (bits - 1n)), (1n << (bits - 1n)) - 1n);
};

const tables: fc.Arbitrary<Table> = fc
  .array(fc.constantFrom(...KINDS), { minLength: 1, maxLength: 7 })
  .chain((kinds) =>
    fc.record({
      kinds: fc.constant(kinds),
      rows: fc.array(fc.tuple(...kinds.map(valueOf)), { maxLength: 12 }),
      isBig: fc.boolean(),
      isCounted: fc.boolean(),
    }),
  );

function scriptOf({ kinds, isBig, isCounted }: Table): ReturnType<typeof parseScript> {
  const fields = kinds.flatMap((kind, i) => {
    if (kind === 'counted') return [`n${i}: u16`, `f${i}: text(n${i})`];
    if (kind === 'ended') return [`f${i}: ztext`];
    return [`f${i}: ${kind === 'fixed' ? 'text(4)' : kind}`];
  });
  const count = isCounted ? 'head.count' : 'rest';
  return parseScript(`
format script: 1
title: Table
byte order: ${isBig ? 'big' : 'little'}
recognise: [{ at: 0, text: TB }]
records:
  head: { tag: text(2), count: u32 }
  row:
${fields.map((field) => `    ${field}`).join('\n')}
parts: { head: { type: head, at: 0 }, rows: { type: row, at: 6, count: ${count} } }
entries: { each: rows, path: text(position), payload: { at: '0', size: '0' } }
`);
}

function bytesOf({ kinds, rows, isBig }: Table): Uint8Array {
  const out = new BytesBuilder(!isBig).raw('TB').number(rows.length, 4);
  for (const row of rows)
    row.forEach((value, i) => {
      const kind = kinds[i]!;
      if (typeof value === 'bigint') {
        const bits = Number(kind.slice(1));
        out.number(BigInt.asUintN(bits, value), (bits / 8) as 1);
      } else if (kind === 'counted') out.number(value.length, 2).raw(value);
      else if (kind === 'ended') out.raw(`${value}\0`);
      else out.padded(value, 4);
    });
  return out.bytes();
}

function read(table: Table, bytes: Uint8Array): (bigint | string)[][] {
  const rows = openWith(scriptOf(table), bytes).context.part('rows');
  if (!(rows instanceof RowTable)) throw new Error('not read as a table');
  return Array.from({ length: rows.length }, (_, row) =>
    table.kinds.map((_kind, i) => {
      const value = rows.value(row, rows.parts.type.byName.get(`f${i}`)!);
      return typeof value === 'number' ? BigInt(value) : (value as bigint | string);
    }),
  );
}

test('every value comes out as it went in', () => {
  fc.assert(
    fc.property(tables, (table) => expect(read(table, bytesOf(table))).toEqual(table.rows)),
    { numRuns: 300 },
  );
});

test('a cut table is told, or ends between two rows', () => {
  fc.assert(
    fc.property(tables, fc.nat(), (table, where) => {
      const bytes = bytesOf(table);
      fc.pre(bytes.length > 6);
      const cut = bytes.subarray(0, 6 + (where % (bytes.length - 6)));
      try {
        const rows = read(table, cut);
        expect(table.isCounted).toBe(false);
        expect(rows).toEqual(table.rows.slice(0, rows.length));
        expect(bytesOf({ ...table, rows: table.rows.slice(0, rows.length) })).toHaveLength(cut.length);
      } catch (error) {
        expect(String(error)).toMatch(/the file ends too early/);
      }
    }),
    { numRuns: 300 },
  );
});

test('rows longer than a block, and many of them', () => {
  const long = { kinds: ['counted', 'u16', 'ended'] as const, isBig: false, isCounted: true };
  const text = 'x'.repeat(60_000);
  const rows = Array.from({ length: 40 }, (_, i) => [text.slice(i), BigInt(i), text.slice(0, 50_000 + i)]);
  const table: Table = { ...long, rows };
  expect(read(table, bytesOf(table))).toEqual(rows);
  const counted: Table = { ...table, isCounted: false };
  expect(read(counted, bytesOf(counted))).toEqual(rows);
});

test('a stated length that is none is told at its row', () => {
  const script = parseScript(`
format script: 1
title: Table
recognise: [{ at: 0, text: TB }]
records:
  row: { size: u8, name: text(size - 3) }
parts: { rows: { type: row, at: 2, count: 2 } }
entries: { each: rows, path: name, payload: { at: '0', size: '0' } }
`);
  const bytes = Buffer.from('TB\x04a\x02....');
  expect(failure(() => openWith(script, bytes)).message).toMatch(
    /rows\[1\], byte 5: the file ends too early \(expected -1 bytes/,
  );
});
