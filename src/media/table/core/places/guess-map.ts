import { isList, isRecord, type Cell } from '../cell';
import type { DataTable } from '../data-table';
import type { Field } from '../fields';
import type { TableLink } from '../links';
import type { MapWords, SeenPart, Standing } from './map-words';

/** Tables with what points where, as far as maps need them. */
export interface MapSource {
  readonly tables: readonly {
    readonly id: string;
    readonly table: DataTable;
    readonly fields: readonly Field[];
  }[];
  /** Links that are followed. */
  readonly followed: readonly TableLink[];
}

/** Fewer spots than these are no map. */
const LEAST_SPOTS = 16;
const WIDE = /^(?:w|wide|width|across|columns|cols)$/i;
const HIGH = /^(?:h|high|height|down|rows)$/i;
/** How two numbers that say where something is are called. */
const PAIRS: readonly (readonly [across: string, down: string])[] = [
  ...([
    ['q', 'r'],
    ['x', 'y'],
    ['col', 'row'],
    ['column', 'row'],
    ['across', 'down'],
  ] as const),
];

const isNumbers = (cell: Cell | undefined): cell is readonly number[] =>
  isList(cell) && cell.length >= LEAST_SPOTS && cell.every((one) => typeof one === 'number');

function pairOf(names: readonly string[]): readonly [string, string] | undefined {
  for (const [across, down] of PAIRS) {
    const found = [across, down].map((wanted) => names.find((name) => name.toLowerCase() === wanted));
    if (found[0] !== undefined && found[1] !== undefined) return [found[0], found[1]];
  }
  return undefined;
}

/** The columns of a table that are lists of tiles: numbers that mean rows, as many in each of them. */
function layersOf({ tables, followed }: MapSource, number: number): string[] {
  const { table, fields } = tables[number]!;
  const linked = new Set(
    followed.flatMap(({ from, field }) => (from === number ? [fields[field]!.path] : [])),
  );
  const found = table.columns.filter(
    ({ name, cells }) => linked.has(`${name}[]`) && cells.length > 0 && cells.every(isNumbers),
  );
  const [first] = found;
  return found
    .filter(({ cells }) =>
      cells.every((cell, row) => (cell as Cell[]).length === (first!.cells[row] as Cell[]).length),
    )
    .map(({ name }) => name);
}

/** The field that says how wide a map is: what is called so, and divides the number of its spots in every row. */
function wideOf({ columns, count }: DataTable, layer: string): string | undefined {
  const tiles = columns.find(({ name }) => name === layer)!.cells;
  return columns.find(
    ({ name, cells }) =>
      WIDE.test(name) &&
      Array.from({ length: count }, (_, row) => row).every((row) => {
        const wide = cells[row];
        return typeof wide === 'number' && wide >= 2 && (tiles[row] as Cell[]).length % wide === 0;
      }),
  )?.name;
}

function seenOf({ columns }: DataTable): SeenPart | undefined {
  for (const { name, cells } of columns) {
    const [first] = cells;
    if (!isRecord(first) || !cells.every(isRecord)) continue;
    const names = [...first.keys()];
    const [pair, wide, high] = [
      pairOf(names),
      names.find((own) => WIDE.test(own)),
      names.find((own) => HIGH.test(own)),
    ];
    if (pair && wide !== undefined && high !== undefined)
      return {
        across: `${name}.${pair[0]}`,
        down: `${name}.${pair[1]}`,
        ...{ wide: `${name}.${wide}`, high: `${name}.${high}` },
      };
  }
  return undefined;
}

/** Tables whose rows say a place and how far across and down they are on it. */
function standingOn({ tables, followed }: MapSource, number: number): Standing[] {
  return tables.flatMap(({ id, table, fields }, from): Standing[] => {
    if (from === number) return [];
    const single = followed.filter((link) => link.from === from && fields[link.field]!.isSingle);
    const place = single.find(({ to }) => to === number);
    const pair = pairOf(
      table.columns.flatMap(({ name }) =>
        fields.some((one) => one.path === name && one.numbers.length > 0) ? [name] : [],
      ),
    );
    if (!place || !pair) return [];
    const is = single.flatMap((link) => (link === place ? [] : [fields[link.field]!.path]));
    return [{ table: id, place: fields[place.field]!.path, across: pair[0], down: pair[1], is }];
  });
}

/** Tables whose rows are maps, as far as what points where and names of fields tell. */
export function guessMaps(source: MapSource): MapWords[] {
  return source.tables.flatMap(({ id, table }, number): MapWords[] => {
    const layers = layersOf(source, number);
    const wide = layers[0] === undefined ? undefined : wideOf(table, layers[0]);
    if (wide === undefined) return [];
    const [seen, stand] = [seenOf(table), standingOn(source, number)];
    // How hexagons are counted is called so in most that is written of them.
    const isHex = [seen?.across.replace(/^.*\./, ''), ...stand.map(({ across }) => across)].some(
      (name) => name?.toLowerCase() === 'q',
    );
    return [{ table: id, grid: isHex ? 'hexagons' : 'squares', wide, layers, seen, stand }];
  });
}

/** A map as the text that `parseMapWords` reads. */
export function spelledMap({ table, grid, wide, layers, seen, stand }: MapWords): string {
  const q = (text: string | number): string =>
    typeof text === 'number' || /^[A-Za-z_][\w./-]*$/.test(text) ? String(text) : JSON.stringify(text);
  const list = (all: readonly string[]): string => `[${all.map(q).join(', ')}]`;
  return [
    `map of: ${q(table)}`,
    `grid: ${grid}`,
    `wide: ${q(wide)}`,
    `tiles: ${list(layers)}`,
    ...(seen
      ? [
          `seen: { across: ${q(seen.across)}, down: ${q(seen.down)}, wide: ${q(seen.wide)}, high: ${q(seen.high)} }`,
        ]
      : []),
    ...(stand.length > 0 ? ['stand:'] : []),
    ...stand.map(
      (one) =>
        `  - { in: ${q(one.table)}, place: ${q(one.place)}, across: ${q(one.across)}, down: ${q(one.down)}, is: ${list(one.is)} }`,
    ),
    '',
  ].join('\n');
}
