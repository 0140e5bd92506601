import { Stall } from '../common/stall';
import type { Value } from './leaf';
import { SHAPES, TABLE_NAMES, type Sort, type TableName } from './shapes';

export type Row = Readonly<Record<string, Value>> & { readonly id: number };
export type Rows = ReadonlyMap<number, Row>;
export type Story = ReadonlyMap<TableName, Rows>;

/** Rows of promises from here on are of an older draft and are not read. */
const OLD_PROMISES = 2900;

/** The tables of a project with every number in them led to its row, as the engine does before it begins. */
export function readStory(read: (table: TableName) => Value): Story {
  const story = new Map<TableName, Rows>();
  for (const table of TABLE_NAMES) story.set(table, rowsOf(read(table), table));
  for (const table of TABLE_NAMES)
    for (const row of story.get(table)!.values())
      for (const [field, sort] of Object.entries(SHAPES[table]))
        check(row[field], sort, `${table}.leaf`, `row ${row.id}, ${field}`, story);
  return story;
}

function rowsOf(value: Value, table: TableName): Rows {
  const what = `${table}.leaf`;
  if (!Array.isArray(value)) throw new Stall(what, 'table', 'it is no list of rows');
  const rows = new Map<number, Row>();
  for (const [i, row] of value.entries()) {
    const id = isRecord(row) ? row.id : undefined;
    if (typeof id !== 'number' || !Number.isInteger(id))
      throw new Stall(what, `row ${i + 1}`, 'it has no number (id)');
    if (rows.has(id)) throw new Stall(what, `row ${id}`, 'there are two of this number');
    if (table === 'promises' && id >= OLD_PROMISES) continue;
    rows.set(id, row as Row);
  }
  return rows;
}

const isRecord = (value: Value | undefined): value is Readonly<Record<string, Value>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value) && !Buffer.isBuffer(value);

function check(value: Value | undefined, sort: Sort, what: string, where: string, story: Story): void {
  const stall = (why: string): Stall => new Stall(what, where, why);
  if (value === undefined) throw stall('the engine looks for this field, and it is not there');
  if (sort.sort === 'list') {
    if (!Array.isArray(value)) throw stall('a list has to be here');
    value.forEach((one, i) => check(one, sort.each, what, `${where} ${i + 1}`, story));
  } else if (sort.sort === 'record') {
    if (!isRecord(value)) throw stall('a record has to be here');
    for (const [name, own] of Object.entries(sort.fields))
      check(value[name], own, what, `${where}.${name}`, story);
  } else if (sort.sort === 'text') {
    if (typeof value !== 'string') throw stall('a text has to be here');
  } else if (sort.sort === 'bytes') {
    if (!Buffer.isBuffer(value)) throw stall('bytes have to be here');
  } else if (typeof value !== 'number') throw stall('a number has to be here');
  else if (sort.sort === 'row') {
    if (!(value === 0 && sort.mayBeNone) && !story.get(sort.of)!.has(value))
      throw stall(`${value} is no row of ${sort.of}`);
  } else if (sort.sort === 'whole' && (!Number.isInteger(value) || value < sort.from || value > sort.to))
    throw stall(`${value} is no whole number from ${sort.from} to ${sort.to}`);
}
