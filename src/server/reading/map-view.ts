import { FormatError } from '@/core/bytes';
import {
  guessMaps,
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
import { rowTitle, type Reading } from './reading';
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

export interface MapView {
  readonly title: string;
  readonly grid: Grid;
  readonly wide: number;
  readonly high: number;
  readonly tiles: readonly TileView[];
  /** Numbers of tiles, row by row; -1 for none. The lowest first. */
  readonly layers: readonly { readonly field: string; readonly spots: readonly number[] }[];
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
  const layers = map.layers.map(({ field, table, tiles: own }) => ({
    field,
    spots: Array.from(own, (tile) => {
      if (tile < 0 && tile !== UNKNOWN_TILE) return -1;
      const key = `${table} ${tile}`;
      let known = numbers.get(key);
      if (known === undefined) {
        known = tiles.length;
        numbers.set(key, known);
        const at = table === undefined || tile < 0 ? undefined : { table, row: tile };
        tiles.push({
          to: at ? toRef(at.table, at.row) : null,
          title: at
            ? rowTitle(reading, at.table, at.row)
            : tile < 0
              ? 'no tile that is known'
              : `tile ${tile}`,
          entry: at ? entryOf(at) : null,
        });
      }
      return known;
    }),
  }));
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

function readAsMap(reading: Reading, words: MapWords, at: RowAt) {
  try {
    return readMap(reading, words, at, isTable);
  } catch (error) {
    if (error instanceof FormatError) throw new UserError(422, error.message);
    throw error;
  }
}
