import {
  calledValue,
  isList,
  isOpenForm,
  isRecord,
  NAME_COLUMN,
  sameCell,
  spelledCell,
  valueWithin,
  type Cell,
  type Place,
} from '@/media/table/core';
import { UserError } from '@/platform/user-error';
import type { EntryRecord } from '../entries/catalogue';
import { isStepList, itemAsSaid, mayResizeLists } from './edit-item';
import { freeKey, mayResize } from './edit-rows';
import { isLevel } from './level-view';
import { likeFirst } from './like-item';
import { mapOf } from './map-view';
import { entriesNamed, type NamedEntry } from './named-entries';
import { MOST_USERS, refOf, refTo, tableAt, type RowRef } from './reading-view';
import { namesIn, rowAsItWas, rowTitle, type Reading } from './reading';
import { stepsOf, type StepsView } from './step-view';

/** A value within a row, with what is within it; in the order in which it stands there. */
export interface ValueView {
  readonly name: string;
  readonly text: string;
  readonly to: readonly RowRef[];
  /** The entry of the game that it names. */
  readonly entry: NamedEntry | null;
  readonly within: readonly ValueView[];
  /** What leads to it within its cell. */
  readonly place: Place;
  /** Whether it can be given another value here. */
  readonly isWritable: boolean;
  /** The table whose rows it means. */
  readonly means: string | null;
  /** What its number is called. */
  readonly called: string | null;
  /** Whether it is one of several that have names. */
  readonly hasNames: boolean;
  /** What it is told apart by as an item of a list that may have other numbers of items; null where it is none. */
  readonly item: string | null;
  /** Of an empty list that may get a first item: what that would be like. */
  readonly first: { readonly text: string; readonly of: string } | null;
  /** As the game has it, where a mod has it otherwise. */
  readonly was: string | null;
  /** More than are told. */
  readonly more: number;
}

export interface RowView extends RowRef {
  /** Whether it is a place that can be seen as a map. */
  readonly isMap: boolean;
  /** Whether it is put together from parts that stand somewhere. */
  readonly isLevel: boolean;
  readonly file: EntryRecord | null;
  /** Whether a row like it may be added, and it taken out. */
  readonly mayEditRows: boolean;
  /** What a copy of it would be called by; null where rows are called by nothing. */
  readonly freeKey: string | null;
  readonly values: readonly ValueView[];
  /** What it says step by step, in words. */
  readonly steps: readonly StepsView[];
  readonly usedBy: readonly {
    readonly table: string;
    readonly field: string;
    readonly count: number;
    readonly rows: readonly RowRef[];
  }[];
}

const MOST_WITHIN = 100;
const MOST_DEPTH = 6;

export async function rowView(reading: Reading, id: string, row: number): Promise<RowView> {
  const { number, of } = tableAt(reading, id);
  if (row >= of.count) throw new UserError(404, `${id} has ${of.count} rows.`);
  const { index, followed, tables, keys } = reading;
  const named = await entriesNamed(reading.gameId);
  const links = new Map(
    followed.filter(({ from }) => from === number).map((link) => [of.fields[link.field]!.path, link]),
  );
  const refsOf = (path: string, cell: Cell | undefined): RowRef[] => {
    const link = links.get(path);
    const value = typeof cell === 'bigint' ? String(cell) : cell;
    if (!link || (typeof value !== 'number' && typeof value !== 'string')) return [];
    const target = keys.find((key) => key.table === link.to && key.field === link.by)?.rows.get(value);
    return target === undefined ? [] : [refOf(reading, index.rowOf(link.to, target))];
  };
  const rowBefore = rowAsItWas(reading, number, row);
  const firstOf = (column: string, path: string, place: Place): ValueView['first'] => {
    const cells = of.table.columns.find(({ name }) => name === column)!.cells;
    const like =
      mayResizeLists(of, `${path}[]`) && of.files.length === 1 ? likeFirst(cells, row, place) : undefined;
    return like
      ? {
          text: itemAsSaid(valueWithin(cells[like.row], like.within)),
          of: rowTitle(reading, number, like.row),
        }
      : null;
  };
  const told = (
    column: string,
    name: string,
    path: string,
    cell: Cell | undefined,
    before: Cell | undefined,
    place: Place,
  ): ValueView => {
    let parts: (readonly [name: string, step: string | number, path: string, value: Cell])[] = [];
    if (place.length < MOST_DEPTH && isList(cell))
      parts = cell.map((one, i) => [String(i + 1), i, `${path}[]`, one]);
    else if (place.length < MOST_DEPTH && isRecord(cell))
      parts = [...cell].map(([own, one]) => [own, own, `${path}.${own}`, one]);
    const link = links.get(path);
    const names = namesIn(reading, number, path);
    return {
      place,
      called: (names && calledValue(names, cell)) ?? null,
      hasNames: names !== undefined,
      isWritable:
        (isOpenForm(of.form) || (cell !== null && (of.table.writable?.has(path) ?? false))) &&
        !path.startsWith(NAME_COLUMN) &&
        isLeaf(cell),
      means: link ? tables[link.to]!.id : null,
      item:
        typeof place.at(-1) === 'number' &&
        mayResizeLists(of, path) &&
        !isStepList(of, column, place.slice(0, -1))
          ? itemAsSaid(cell)
          : null,
      first:
        isList(cell) && cell.length === 0 && !isStepList(of, column, place)
          ? firstOf(column, path, place)
          : null,
      was: parts.length > 0 || !rowBefore || sameCell(before, cell) ? null : spelledCell(before),
      ...{ name, to: refsOf(path, cell), more: Math.max(0, parts.length - MOST_WITHIN) },
      text: parts.length > 0 ? '' : spelledCell(cell),
      entry: (typeof cell === 'string' && named(cell)) || null,
      within: parts
        .slice(0, MOST_WITHIN)
        .map(([own, step, at, one]) =>
          told(column, own, at, one, valueWithin(before, [step]), [...place, step]),
        ),
    };
  };
  const users = new Map<number, { count: number; rows: number[] }>();
  for (const { from, link } of index.into(index.rowOf(number, row))) {
    let own = users.get(link);
    if (!own) users.set(link, (own = { count: 0, rows: [] }));
    own.count++;
    if (own.rows.length < MOST_USERS && own.rows.at(-1) !== from) own.rows.push(from);
  }
  return {
    ...{ table: id, row, title: rowTitle(reading, number, row) },
    isMap: mapOf(reading, number) !== undefined,
    isLevel: isLevel(reading, number, row),
    mayEditRows: mayResize(of),
    freeKey: freeKey(of, row),
    file: (of.files.length > 1 ? of.files[row] : of.files[0]) ?? null,
    values: of.table.columns.flatMap(({ name, cells }) =>
      cells[row] === undefined ? [] : [told(name, name, name, cells[row], rowBefore?.(name), [])],
    ),
    steps: stepsOf(reading, of, row, refTo(reading)),
    usedBy: [...users].map(([link, { count, rows }]) => ({
      table: tables[followed[link]!.from]!.id,
      field: tables[followed[link]!.from]!.fields[followed[link]!.field]!.path,
      count,
      rows: rows.map((one) => refOf(reading, one)),
    })),
  };
}

/** Values that are written as one. */
const isLeaf = (cell: Cell | undefined): boolean =>
  cell === null || (cell !== undefined && typeof cell !== 'object');

/** A row that a value may mean. */
export interface TargetView {
  readonly value: string;
  readonly title: string;
}

const MOST_TARGETS = 40;

/** Rows that a field may mean, of those whose name or key has a text in it, or the names that its numbers have; none for a field of neither. */
export function targetsOf(reading: Reading, id: string, field: string, text: string): TargetView[] {
  const { number, of } = tableAt(reading, id);
  const link = reading.followed.find(
    ({ from, field: own }) => from === number && of.fields[own]!.path === field,
  );
  const key = link && reading.keys.find((one) => one.table === link.to && one.field === link.by);
  const low = text.trim().toLocaleLowerCase();
  const found: TargetView[] = [];
  const names = namesIn(reading, number, field);
  if (names)
    return [...names.names]
      .map(([value, title]) => ({ value: String(value), title }))
      .filter(({ value, title }) => `${title} ${value}`.toLocaleLowerCase().includes(low))
      .slice(0, MOST_TARGETS);
  if (!key) return [];
  for (const [value, row] of key.rows) {
    const title = rowTitle(reading, key.table, row);
    if (`${title} ${value}`.toLocaleLowerCase().includes(low)) found.push({ value: String(value), title });
    if (found.length >= MOST_TARGETS) break;
  }
  return found;
}
