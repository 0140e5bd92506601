import { createHash } from 'node:crypto';
import { FormatError } from '@/core/bytes';
import { isOpenForm } from '@/media/table/core';
import {
  guessMaps,
  NO_TILE,
  readMap,
  spelledMap,
  UNKNOWN_TILE,
  type Grid,
  type MapWords,
  type Part,
  type RowAt,
} from '@/media/table/core/places';
import { UserError } from '@/platform/user-error';
import { entriesNamed, type NamedEntry } from './named-entries';
import { rowTitle, type GameTable, type Reading } from './reading';
import { refTo, tableAt, type RowRef } from './reading-view';
import { isTable } from './words';

/** A sort of tile. */
export interface TileView {
  /** The row that it is; null for a number that no row has, or that means none. */
  readonly to: RowRef | null;
  readonly title: string;
  /** What the row names to be drawn with. */
  readonly entry: NamedEntry | null;
}

/** Something that stands or stirs on a place. */
export interface ThingView {
  readonly across: number;
  readonly down: number;
  /** Its own row. */
  readonly to: RowRef;
  /** What it is called: by the first row that it says it is. */
  readonly title: string;
  readonly is: readonly RowRef[];
  readonly entry: NamedEntry | null;
  /** Whether it stands where the place has no spot, or outside of what the game shows. */
  readonly isOutside: boolean;
}

export interface LayerView {
  readonly field: string;
  /** Numbers of tiles, row by row; -1 for none. */
  readonly spots: readonly number[];
  /** Tiles that spots may get, those that are in use first, and what stands for each; empty where it cannot be changed here. */
  readonly palette: readonly { readonly tile: number; readonly value: string | number }[];
  /** What stands for no tile; null where each spot has one. */
  readonly none: string | number | null;
  /** Told again when it is changed, so that nobody changes what they have not seen. */
  readonly stamp: string;
}

export interface MapView {
  readonly title: string;
  readonly grid: Grid;
  readonly wide: number;
  readonly high: number;
  readonly tiles: readonly TileView[];
  /** The lowest first. */
  readonly layers: readonly LayerView[];
  readonly seen: Part | null;
  readonly things: readonly ThingView[];
  /** How it is read as a map, as words that can be given otherwise. */
  readonly words: string;
  readonly isSaid: boolean;
}

const guessed = new WeakMap<Reading, readonly MapWords[]>();

/** How rows of a table are maps: as somebody says it, else as it is found. */
export function mapOf(reading: Reading, table: number): { words: MapWords; isSaid: boolean } | undefined {
  const { id } = reading.tables[table]!;
  const said = reading.mapWords.find((one) => isTable(id, one.table));
  if (said) return { words: said, isSaid: true };
  let known = guessed.get(reading);
  if (!known) guessed.set(reading, (known = guessMaps(reading)));
  const found = known.find((one) => one.table === id);
  return found && { words: found, isSaid: false };
}

/** So many sorts of tiles are offered. */
const MOST_PALETTE = 1000;

export const stampOf = (tiles: Int32Array): string =>
  createHash('sha1')
    .update(new Uint8Array(tiles.buffer, tiles.byteOffset, tiles.byteLength))
    .digest('hex');

/** Whether spots of a layer get another tile here: in open forms, and where a script says that rows carry its list. */
export const mayPaint = ({ form, table }: GameTable, field: string): boolean =>
  isOpenForm(form) || (table.writable?.has(`${field}[]`) ?? false);

/** A row as a map. */
export async function mapView(reading: Reading, id: string, row: number): Promise<MapView> {
  const { number, of } = tableAt(reading, id);
  if (row >= of.count) throw new UserError(404, `${id} has ${of.count} rows.`);
  const found = mapOf(reading, number);
  if (!found)
    throw new UserError(
      409,
      `It is not known how rows of ${id} are maps. Say it in Words for steps and maps: its tiles, how wide it is, and what stands on it.`,
    );
  const map = readAsMap(reading, found.words, { table: number, row });
  const named = await entriesNamed(reading.gameId);
  const toRef = refTo(reading);
  const entryOf = ({ table, row: own }: RowAt): NamedEntry | null => {
    for (const { cells } of reading.tables[table]!.table.columns) {
      const cell = cells[own];
      const entry = typeof cell === 'string' ? named(cell) : undefined;
      if (entry) return entry;
    }
    return null;
  };
  const tiles: TileView[] = [];
  const numbers = new Map<string, number>();
  const tileOf = (table: number | undefined, tile: number): number => {
    const key = `${table} ${tile}`;
    let known = numbers.get(key);
    if (known === undefined) {
      known = tiles.length;
      numbers.set(key, known);
      const at = table === undefined || tile < 0 ? undefined : { table, row: tile };
      tiles.push({
        to: at ? toRef(at.table, at.row) : null,
        title: at ? rowTitle(reading, at.table, at.row) : tile < 0 ? 'no tile that is known' : `tile ${tile}`,
        entry: at ? entryOf(at) : null,
      });
    }
    return known;
  };
  const layers = map.layers.map(({ field, table, tiles: own, values, none }): LayerView => {
    const inUse = new Set(own);
    const known =
      table === undefined ? [...inUse].sort((a, b) => a - b).map((one) => [one, one] as const) : [...values];
    // Told apart by the order of their rows, so that a map that was changed calls them what it did.
    for (const [, tile] of known.slice(0, MOST_PALETTE)) if (tile >= 0) tileOf(table, tile);
    const spots = Array.from(own, (tile) =>
      tile < 0 && tile !== UNKNOWN_TILE ? NO_TILE : tileOf(table, tile),
    );
    const palette = known.filter(([, tile]) => tile >= 0).slice(0, MOST_PALETTE);
    palette.sort(([, a], [, b]) => Number(inUse.has(b)) - Number(inUse.has(a)));
    return {
      ...{ field, spots, stamp: stampOf(own) },
      palette: mayPaint(of, field)
        ? palette.map(([value, tile]) => ({ tile: tileOf(table, tile), value }))
        : [],
      none: typeof none === 'string' || typeof none === 'number' ? none : null,
    };
  });
  const { seen } = map;
  const things = map.things.map(({ table, row: own, across, down, is }): ThingView => {
    const refs = is.map((one) => toRef(one.table, one.row));
    const isIn = (part: Part): boolean =>
      across >= part.across &&
      down >= part.down &&
      across < part.across + part.wide &&
      down < part.down + part.high;
    const whole = { across: 0, down: 0, wide: map.wide, high: map.high };
    return {
      ...{ across, down, is: refs, to: toRef(table, own) },
      title: refs[0]?.title ?? rowTitle(reading, table, own),
      entry: is.map(entryOf).find((entry) => entry !== null) ?? null,
      isOutside: !isIn(whole) || (seen !== undefined && !isIn(seen)),
    };
  });
  return {
    ...{ title: rowTitle(reading, number, row), grid: map.grid, wide: map.wide, high: map.high },
    ...{ tiles, layers, things, seen: seen ?? null },
    ...{ words: spelledMap(found.words), isSaid: found.isSaid },
  };
}

/** A row as it is read as a map; throws UserError where it is none. */
export function readAsMap(reading: Reading, words: MapWords, at: RowAt) {
  try {
    return readMap(reading, words, at, isTable);
  } catch (error) {
    if (error instanceof FormatError) throw new UserError(422, error.message);
    throw error;
  }
}
