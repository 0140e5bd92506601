import { calledValue, sameCell, spelledCell } from '@/media/table/core';
import { chainOf, idleFields, unreadRows } from '@/media/table/core/links';
import { UserError } from '@/platform/user-error';
import type { EntryRecord } from '../entries/catalogue';
import { saidSteps, stepsOf } from './step-view';
import { openReading } from './open-reading';
import { MADE_FORM } from './named-rows';
import {
  namesIn,
  rowAsItWas,
  rowTitle,
  type GameLink,
  type GameTable,
  type LinkSource,
  type Reading,
} from './reading';

/** A row as others name it. */
export interface RowRef {
  readonly table: string;
  readonly row: number;
  readonly title: string;
}

export interface ReadingOverview {
  readonly tables: readonly {
    readonly id: string;
    readonly form: string;
    readonly rows: number;
    readonly columns: readonly string[];
    /** Fields that other tables may mean rows by. */
    readonly keys: readonly string[];
    readonly fields: readonly string[];
    readonly files: readonly Pick<EntryRecord, 'archiveId' | 'index' | 'path'>[];
    /** References into it. */
    readonly into: number;
    /** Whether it is a level as a whole, put together from parts that stand somewhere. */
    readonly isLevel: boolean;
    /** Whether other archives have a file of its path, which the game does not find, or other games may. */
    readonly hasVersions: boolean;
  }[];
  readonly links: readonly LinkView[];
  readonly references: number;
  /** Tables that the mod changes. */
  readonly changed: readonly string[];
  readonly problems: Reading['problems'];
  readonly isCut: boolean;
}

export interface LinkView {
  readonly table: string;
  readonly field: string;
  readonly to: string;
  readonly by: string;
  readonly values: number;
  readonly hits: number;
  readonly chance: number;
  readonly source: LinkSource;
  /** Values that no row has. */
  readonly nowhere: number;
  /** The script that reads the table, where it can say so itself and does not yet. */
  readonly script: string | null;
}

const MOST_FILES_TOLD = 3;

export function readingOverview(
  reading: Reading,
  hasVersions: (path: string) => boolean = () => false,
  /** Whether a table as a whole is a level. */
  isWhole: (table: number) => boolean = () => false,
): ReadingOverview {
  const { tables, links, followed, index, keys, problems, isCut, before } = reading;
  const into = new Array<number>(tables.length).fill(0);
  tables.forEach(({ count }, table) => {
    for (let row = 0; row < count; row++) into[table]! += index.countInto(index.rowOf(table, row));
  });
  const nowhere = new Map<GameLink, number>();
  for (const { link } of index.dangling) {
    const of = followed[link]!;
    nowhere.set(of, (nowhere.get(of) ?? 0) + 1);
  }
  return {
    tables: tables.map(({ id, form, count, table, fields, files }, i) => ({
      ...{ id, form, rows: count, into: into[i]! },
      isLevel: isWhole(i),
      hasVersions: form !== MADE_FORM && files.length === 1 && hasVersions(files[0]!.path),
      columns: table.columns.map(({ name }) => name),
      keys: keys.filter((key) => key.table === i).map(({ field }) => fields[field]!.path),
      fields: fields.map(({ path }) => path),
      files: files
        .slice(0, MOST_FILES_TOLD)
        .map(({ archiveId, index: number, path }) => ({ archiveId, index: number, path })),
    })),
    links: links.map((link) => ({
      table: tables[link.from]!.id,
      field: tables[link.from]!.fields[link.field]!.path,
      to: tables[link.to]!.id,
      by: tables[link.to]!.fields[link.by]!.path,
      values: link.values,
      hits: link.hits,
      chance: link.chance,
      source: link.source,
      nowhere: nowhere.get(link) ?? 0,
      script: tables[link.to]!.form === MADE_FORM ? null : scriptFor(tables[link.from]!, link),
    })),
    changed: tables
      .filter(({ form }) => form !== MADE_FORM)
      .filter(({ id, table }) => before && before.tables[before.byId.get(id) ?? -1]?.table !== table)
      .map(({ id }) => id),
    ...{ references: index.count, problems, isCut },
  };
}

/** What a script says already, or cannot say, it is not told. */
const scriptFor = ({ table: { said, columns }, fields, form }: GameTable, link: GameLink): string | null =>
  said &&
  ['found', 'likely', 'said'].includes(link.source) &&
  columns.some(({ name }) => name === fields[link.field]!.path)
    ? form
    : null;

export function tableAt(
  { tables, byId }: Reading,
  id: string,
): { readonly number: number; readonly of: GameTable } {
  const number = byId.get(id);
  if (number === undefined) throw new UserError(404, `There is no table ${id} in this game.`);
  return { number, of: tables[number]! };
}

/** A cell as lists show it: spelled, with what it is called where it means a row. */
export interface CellView {
  readonly text: string;
  readonly to: readonly RowRef[];
  /** What its number is called. */
  readonly called?: string;
  /** Whether the mod has it otherwise than the game. */
  readonly isChanged?: true;
}

export interface RowsView {
  readonly total: number;
  readonly rows: readonly { readonly row: number; readonly cells: readonly CellView[] }[];
}

export interface RowsQuery {
  readonly text: string;
  /** The column that they are put in the order of, from 0; -1 as they lie. */
  readonly order: number;
  readonly isBackwards: boolean;
}

const MOST_CELL = 200;
const MOST_LINKS_IN_CELL = 6;

/** Rows that have a text in one of their cells, in the order of a column. */
export function rowsFor(
  { table }: GameTable,
  { text, order, isBackwards }: RowsQuery,
  /** What a row says besides its cells. */
  said: (row: number) => string = () => '',
): number[] {
  const low = text.trim().toLocaleLowerCase();
  const { columns, count } = table;
  const rows: number[] = [];
  for (let row = 0; row < count; row++)
    if (
      low === '' ||
      columns.some(({ cells }) => spelledCell(cells[row]).toLocaleLowerCase().includes(low)) ||
      said(row).toLocaleLowerCase().includes(low)
    )
      rows.push(row);
  const cells = columns[order]?.cells;
  if (!cells) return isBackwards ? rows.reverse() : rows;
  const compare = new Intl.Collator(undefined, { numeric: true }).compare;
  const turn = isBackwards ? -1 : 1;
  const values = new Map(rows.map((row) => [row, cells[row]]));
  return rows.sort((a, b) => {
    const [one, other] = [values.get(a), values.get(b)];
    const by =
      typeof one === 'number' && typeof other === 'number'
        ? one - other
        : compare(spelledCell(one), spelledCell(other));
    return by === 0 ? a - b : turn * by;
  });
}

const sentences = new WeakMap<GameTable, string[]>();

/** The steps of a row as a text; worked out once, since each letter of a search asks for all rows. */
function saidOf(reading: Reading, of: GameTable, row: number): string {
  if (of.words.length === 0) return '';
  let known = sentences.get(of);
  if (!known) sentences.set(of, (known = []));
  return (known[row] ??= saidSteps(stepsOf(reading, of, row, refTo(reading))));
}

/** References of a row by the field that says them. */
function meant(reading: Reading, table: number, row: number): Map<string, RowRef[]> {
  const { index, followed, tables } = reading;
  const found = new Map<string, RowRef[]>();
  for (const { to, link } of index.outOf(index.rowOf(table, row))) {
    const field = tables[table]!.fields[followed[link]!.field]!.path;
    const own = found.get(field);
    const ref = refOf(reading, to);
    if (own) own.push(ref);
    else found.set(field, [ref]);
  }
  return found;
}

export const refTo =
  (reading: Reading) =>
  (table: number, row: number): RowRef =>
    refOf(reading, reading.index.rowOf(table, row));

export function refOf(reading: Reading, global: number): RowRef {
  const { table, row } = reading.index.placeOf(global);
  return { table: reading.tables[table]!.id, row, title: rowTitle(reading, table, row) };
}

export function rowsView(
  reading: Reading,
  id: string,
  query: RowsQuery,
  from: number,
  count: number,
): RowsView {
  const { number, of } = tableAt(reading, id);
  const names = of.table.columns.map(({ name }) => namesIn(reading, number, name));
  const calledIn = (row: number): string =>
    names.map((one, i) => (one && calledValue(one, of.table.columns[i]!.cells[row])) ?? '').join(' ');
  const hasNames = names.some((one) => one !== undefined);
  const found = rowsFor(of, query, (row) => saidOf(reading, of, row) + (hasNames ? ` ${calledIn(row)}` : ''));
  return {
    total: found.length,
    rows: found.slice(from, from + count).map((row) => {
      const refs = meant(reading, number, row);
      const before = rowAsItWas(reading, number, row);
      return {
        row,
        cells: of.table.columns.map(({ name, cells }, i) => ({
          ...(names[i] && { called: calledValue(names[i], cells[row]) }),
          text: spelledCell(cells[row]).slice(0, MOST_CELL),
          to: [...refs]
            .filter(
              ([field]) => field === name || field.startsWith(`${name}[`) || field.startsWith(`${name}.`),
            )
            .flatMap(([, own]) => own)
            .slice(0, MOST_LINKS_IN_CELL),
          ...(before && !sameCell(before(name), cells[row]) && { isChanged: true as const }),
        })),
      };
    }),
  };
}

export interface ChainView {
  readonly rows: readonly (RowRef & { readonly depth: number; readonly hidden: number })[];
  /** By the places of rows in the list. */
  readonly steps: readonly {
    readonly from: number;
    readonly to: number;
    readonly field: string;
    readonly isCircle: boolean;
  }[];
  readonly isCut: boolean;
}

/** So many rows that name one are told. */
export const MOST_USERS = 200;
const MOST_CHAIN_ROWS = 120;

export function chainView(
  reading: Reading,
  id: string,
  row: number,
  direction: 'leads here' | 'comes of it',
  depth: number,
): ChainView {
  const { number, of } = tableAt(reading, id);
  if (row >= of.count) throw new UserError(404, `${id} has ${of.count} rows.`);
  const { index, followed, tables } = reading;
  const chain = chainOf(index, index.rowOf(number, row), direction, { depth, rows: MOST_CHAIN_ROWS });
  const places = new Map(chain.rows.map((one, i) => [one.row, i]));
  return {
    rows: chain.rows.map((one) => ({ ...refOf(reading, one.row), depth: one.depth, hidden: one.hidden })),
    steps: chain.steps.map(({ from, to, link, isCircle }) => ({
      ...{ from: places.get(from)!, to: places.get(to)!, isCircle },
      field: tables[followed[link]!.from]!.fields[followed[link]!.field]!.path,
    })),
    isCut: chain.isCut,
  };
}

export interface ValueFound {
  readonly table: string;
  readonly field: string;
  readonly count: number;
  readonly rows: readonly RowRef[];
}

const MOST_TOLD = 40;

/** Every place that has a number or text, by table and field. */
export function findValue(reading: Reading, value: string): ValueFound[] {
  const number = value.trim() === '' ? NaN : Number(value);
  const low = value.trim().toLocaleLowerCase();
  if (low === '') return [];
  const found: ValueFound[] = [];
  reading.tables.forEach(({ id, fields }, table) => {
    for (const { path, numbers, numberRows, texts, textRows } of fields) {
      const rows: number[] = [];
      let count = 0;
      const note = (row: number): void => {
        count++;
        if (rows.length < MOST_TOLD && rows.at(-1) !== row) rows.push(row);
      };
      if (!Number.isNaN(number))
        for (let i = 0; i < numbers.length; i++) if (numbers[i] === number) note(numberRows[i]!);
      for (let i = 0; i < texts.length; i++) if (texts[i]!.toLocaleLowerCase() === low) note(textRows[i]!);
      if (count > 0)
        found.push({
          ...{ table: id, field: path, count },
          rows: rows.map((row) => ({ table: id, row, title: rowTitle(reading, table, row) })),
        });
    }
  });
  return found.sort((a, b) => a.count - b.count);
}

export interface UnreadView {
  readonly rows: readonly {
    readonly table: string;
    readonly count: number;
    readonly read: number;
    readonly sureness: number;
    readonly rows: readonly RowRef[];
  }[];
  readonly fields: readonly {
    readonly table: string;
    readonly field: string;
    readonly why: string;
    readonly value: string;
    readonly rows: number;
    readonly sureness: number;
  }[];
  readonly nowhere: readonly (RowRef & {
    readonly field: string;
    readonly value: string;
    readonly to: string;
  })[];
}

/** What nothing reads, as far as tables tell, and what leads nowhere. */
export function unreadView(reading: Reading): UnreadView {
  const { tables, index, followed } = reading;
  return {
    rows: unreadRows(tables, index).map(({ table, rows, read, sureness }) => ({
      ...{ table: tables[table]!.id, count: rows.length, read, sureness },
      rows: rows
        .slice(0, MOST_USERS)
        .map((row) => ({ table: tables[table]!.id, row, title: rowTitle(reading, table, row) })),
    })),
    fields: idleFields(tables).map(({ table, field, ...rest }) => ({
      ...rest,
      ...{ table: tables[table]!.id, field: tables[table]!.fields[field]!.path },
    })),
    nowhere: index.dangling.slice(0, MOST_USERS).map(({ from, link, value }) => ({
      ...refOf(reading, from),
      field: tables[followed[link]!.from]!.fields[followed[link]!.field]!.path,
      ...{ value: String(value), to: tables[followed[link]!.to]!.id },
    })),
  };
}

/** The table that a file has, the largest of several. */
export async function tableOfFile(gameId: number, archiveId: number, number: number): Promise<string | null> {
  const { tables } = await openReading(gameId);
  const own = tables.filter(
    ({ files, form }) =>
      form !== MADE_FORM && files.some((file) => file.archiveId === archiveId && file.index === number),
  );
  return [...own].sort((a, b) => b.count - a.count)[0]?.id ?? null;
}
