import { FormatError } from '@/core/bytes';
import { isList, isRecord, type Cell } from '../cell';
import type { DataTable } from '../data-table';
import type { KeyField } from '../links';
import type { Grid, Spot } from './grid';
import type { MapSource } from './guess-map';
import type { MapWords } from './map-words';

/** A row of one of the tables. */
export interface RowAt {
  readonly table: number;
  readonly row: number;
}

export interface MapThing extends RowAt, Spot {
  /** What it is: the rows that it says. */
  readonly is: readonly RowAt[];
}

export interface MapLayer {
  readonly field: string;
  /** The table whose rows its tiles are; undefined where its numbers mean none. */
  readonly table: number | undefined;
  /** A row of that table for each spot, row by row; -1 for none, -2 for a number that no row has. Where numbers mean no rows they stand as they are. */
  readonly tiles: Int32Array;
  /** What stands for no tile in its list, as it stands there first; undefined where each spot has one. */
  readonly none: Cell | undefined;
  /** What stands for each row of that table in the list; empty where numbers mean none. */
  readonly values: ReadonlyMap<string | number, number>;
}

/** Where a field of a row lies: its column, and what leads to it within the cell. */
export function placeOfField(
  { columns }: Pick<DataTable, 'columns'>,
  path: string,
): { column: string; within: string[] } {
  if (columns.some(({ name }) => name === path)) return { column: path, within: [] };
  const [column, ...within] = path.split('.');
  return { column: column!, within };
}

/** The part of a place that the game shows, in spots. */
export interface Part extends Spot {
  readonly wide: number;
  readonly high: number;
}

/** A place as a map. */
export interface PlaceMap {
  readonly grid: Grid;
  readonly wide: number;
  readonly high: number;
  readonly layers: readonly MapLayer[];
  readonly seen: Part | undefined;
  readonly things: readonly MapThing[];
}

/** More spots than these are not drawn. */
export const MOST_SPOTS = 4_000_000;
const MOST_THINGS = 100_000;
export const NO_TILE = -1;
export const UNKNOWN_TILE = -2;

/** A value by the path of its field, through records only. */
function single({ columns }: Pick<DataTable, 'columns'>, row: number, path: string): Cell | undefined {
  const { column, within } = placeOfField({ columns }, path);
  let at = columns.find(({ name }) => name === column)?.cells[row];
  for (const step of within) at = isRecord(at) ? at.get(step) : undefined;
  return at;
}

function number(table: DataTable, row: number, path: string): number | undefined {
  const cell = single(table, row, path);
  return typeof cell === 'number' && Number.isInteger(cell) ? cell : undefined;
}

/**
 * A row of a table as a map. Throws FormatError `bad-value` with the field that is not as the words say it: no list, a width that is no number of spots.
 * `isTable` tells whether a table is called so.
 */
export function readMap(
  source: MapSource & { readonly keys: readonly KeyField[] },
  words: MapWords,
  own: RowAt,
  isTable: (id: string, said: string) => boolean,
): PlaceMap {
  const { tables, followed, keys } = source;
  const { id, table } = tables[own.table]!;
  const refuse = (fieldPath: string, expected: string, actual: string): FormatError =>
    new FormatError('bad-value', {
      ...{ file: id, fieldPath: `${fieldPath} of row ${own.row + 1}`, expected, actual },
      remedy: 'Say in the words of the map which field it is',
    });
  const wide = typeof words.wide === 'number' ? words.wide : number(table, own.row, words.wide);
  if (wide === undefined || wide < 1)
    throw refuse(
      String(words.wide),
      'a number of spots',
      `${String(single(table, own.row, String(words.wide)) as string)}`,
    );
  const rowsBy = (
    from: number,
    path: string,
  ): { readonly to: number; readonly key: KeyField } | undefined => {
    const field = tables[from]!.fields.findIndex((one) => one.path === path);
    const link = followed.find((one) => one.from === from && one.field === field);
    const key = link && keys.find((one) => one.table === link.to && one.field === link.by);
    return link && key ? { to: link.to, key } : undefined;
  };
  let spots = 0;
  const layers = words.layers.map((field): MapLayer => {
    const cell = single(table, own.row, field);
    if (!isList(cell))
      throw refuse(field, 'a list of tiles', cell === undefined ? 'nothing' : 'something else');
    if (cell.length > MOST_SPOTS) throw refuse(field, `at most ${MOST_SPOTS} spots`, `${cell.length}`);
    spots = Math.max(spots, cell.length);
    const means = rowsBy(own.table, `${field}[]`);
    const tiles = Int32Array.from(cell, (one) => {
      if (typeof one !== 'number' && typeof one !== 'string') return NO_TILE;
      if (!means) return typeof one === 'number' && one >= 0 ? one : NO_TILE;
      const row = means.key.rows.get(one);
      return row ?? (one === 0 || one === -1 || one === '' ? NO_TILE : UNKNOWN_TILE);
    });
    const none = tiles.indexOf(NO_TILE);
    return {
      ...{ field, table: means?.to, tiles, none: none < 0 ? undefined : cell[none] },
      values: means?.key.rows ?? new Map<string | number, number>(),
    };
  });
  const part = words.seen;
  const [across, down, seenWide, seenHigh] = part
    ? [part.across, part.down, part.wide, part.high].map((path) => number(table, own.row, path))
    : [];
  const things: MapThing[] = [];
  for (const standing of words.stand)
    for (const [from, of] of tables.entries()) {
      if (!isTable(of.id, standing.table)) continue;
      const place = rowsBy(from, standing.place);
      if (place?.to !== own.table) continue;
      for (let row = 0; row < of.table.count && things.length < MOST_THINGS; row++) {
        const said = single(of.table, row, standing.place);
        if ((typeof said !== 'number' && typeof said !== 'string') || place.key.rows.get(said) !== own.row)
          continue;
        const [x, y] = [number(of.table, row, standing.across), number(of.table, row, standing.down)];
        if (x === undefined || y === undefined) continue;
        const is = standing.is.flatMap((field): RowAt[] => {
          const means = rowsBy(from, field);
          const value = single(of.table, row, field);
          const target =
            typeof value === 'number' || typeof value === 'string' ? means?.key.rows.get(value) : undefined;
          return means && target !== undefined ? [{ table: means.to, row: target }] : [];
        });
        things.push({ table: from, row, across: x, down: y, is });
      }
    }
  return {
    ...{ grid: words.grid, wide: Math.min(wide, Math.max(1, spots)), high: Math.ceil(spots / wide) },
    layers,
    seen:
      across !== undefined && down !== undefined && seenWide !== undefined && seenHigh !== undefined
        ? { across, down, wide: seenWide, high: seenHigh }
        : undefined,
    things,
  };
}
