// Tables of a game without a server: a million references found, kept and asked for. Run with `npm run bench:reading`.
import { encode } from 'cborg';
import { fieldsOf, readOpenTables, tableAsCsv } from '../src/media/table/core';
import {
  chainOf,
  guessLinks,
  keyFields,
  ReferenceIndex,
  type TableFields,
} from '../src/media/table/core/links';

const say = (text: string): boolean => process.stdout.write(`${text}\n`);
function timed<T>(what: string, work: () => T): T {
  const began = performance.now();
  const made = work();
  say(`${what}: ${(performance.now() - began).toFixed(0)} ms`);
  return made;
}
const megabytes = (): string => `${(process.memoryUsage().rss / 2 ** 20).toFixed(0)} MB held by the process`;

/** A number by rule, the same in every run. */
let state = 1;
function any(count: number): number {
  state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
  return state % count;
}

const ROWS = 100_000;
const rows = Array.from({ length: ROWS }, (_, i) => ({
  id: 1_000_000 + i,
  name: `row ${i}`,
  near: [0, 1, 2, 3, 4, 5].map(() => 1_000_000 + any(ROWS)),
  leads: [
    { to: 1_000_000 + any(ROWS), count: any(9) },
    { to: 1_000_000 + any(ROWS), count: 1 },
  ],
  kind: 500 + any(40),
  maker: 5_000_000 + any(2000),
}));
const kinds = Array.from({ length: 40 }, (_, i) => ({ id: 500 + i, name: `kind ${i}` }));
const makers = Array.from({ length: 2000 }, (_, i) => ({
  id: 5_000_000 + i,
  name: `maker ${i}`,
  kind: 500 + (i % 40),
}));

const bytes = encode(rows);
say(`${ROWS} rows, ${(bytes.length / 2 ** 20).toFixed(1)} MB of CBOR`);
const [table] = timed('read', () => readOpenTables(bytes, 'things.cbor')!).tables;
const csv = timed('taken out as CSV', () => tableAsCsv(table!));
timed(`read again as CSV, ${(csv.length / 2 ** 20).toFixed(1)} MB`, () =>
  readOpenTables(Buffer.from(csv), 'a.csv'),
);
const tables: TableFields[] = timed('its fields gone through', () =>
  [
    ['things', table!] as const,
    ['kinds', readOpenTables(encode(kinds), 'kinds.cbor')!.tables[0]!] as const,
    ['makers', readOpenTables(encode(makers), 'makers.cbor')!.tables[0]!] as const,
  ].map(([id, of]) => ({ id, count: of.count, fields: fieldsOf(of) })),
);
const links = timed('what points where found', () => guessLinks(tables));
for (const { from, field, to, isSure } of links)
  say(
    `   ${tables[from]!.id}.${tables[from]!.fields[field]!.path} means ${tables[to]!.id}${isSure ? '' : ', likely'}`,
  );
const index = timed(
  'every reference kept from both ends',
  () => new ReferenceIndex(tables, links, keyFields(tables)),
);
say(`   ${index.count} references, ${megabytes()}`);
const times: number[] = [];
for (let i = 0; i < 400; i++) {
  const began = performance.now();
  const row = i % 4 === 0 ? index.rowOf(1, i % 40) : any(ROWS);
  let found = 0;
  for (const { from } of index.into(row)) found += from >= 0 ? 1 : 0;
  if (i % 8 === 1) chainOf(index, row, 'leads here', { depth: 3, rows: 120 });
  if (found < 0) say('never');
  times.push(performance.now() - began);
}
times.sort((a, b) => a - b);
say(`who names a row: 95 % under ${times[380]!.toFixed(2)} ms, all under ${times.at(-1)!.toFixed(1)} ms`);
