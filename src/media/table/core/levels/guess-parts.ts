import type { MapSource } from '../places';
import type { PartsWords } from './parts-words';

/** How the numbers that say where something stands are called. */
const PLACES: readonly (readonly string[])[] = [
  ['x', 'y', 'z'],
  ['pos_x', 'pos_y', 'pos_z'],
  ['posx', 'posy', 'posz'],
  ['x', 'z'],
  ['x', 'y'],
];
const TURN = /^(?:turn|turned|yaw|heading|angle|facing|rotation|rot_?[yz])$/i;
/** Fields that say what a part belongs to, and not what it is. */
const BELONGS = /^(?:in|of|level|scene|map|room|area|place|part_?of|within|owner|group|layout)(?:_?id)?$/i;
/** The table has no more than so many levels of names within names. */
const last = (path: string): string => path.slice(path.lastIndexOf('.') + 1).toLowerCase();

/** Fields below one beginning (`parts[].at.`) whose last names are those of a place. */
function placeAmong(paths: readonly string[]): readonly string[] | undefined {
  for (const names of PLACES) {
    const firsts = paths.filter((path) => last(path) === names[0]);
    for (const first of firsts) {
      const before = first.slice(0, first.length - names[0]!.length);
      const found = names.map((name) =>
        paths.find((path) => path.startsWith(before) && path.slice(before.length).toLowerCase() === name),
      );
      if (found.every((path) => path !== undefined)) return found as string[];
    }
  }
  return undefined;
}

/** How far parts are spread along a coordinate. */
function spreadOf({ fields }: MapSource['tables'][number], path: string): number {
  let [low, high] = [Infinity, -Infinity];
  for (const value of fields.find((one) => one.path === path)?.numbers ?? [])
    [low, high] = [Math.min(low, value), Math.max(high, value)];
  return high - low;
}

/**
 * Which coordinate leads up: parts are spread least along it. Within a game it is the same for all that are called alike, so what is spread furthest tells it.
 */
function withUp(source: MapSource, found: readonly PartsWords[]): PartsWords[] {
  const called = (at: readonly string[]): string => at.map(last).join();
  const widest = new Map<string, { readonly spread: number; readonly up: number }>();
  for (const { table, list, at } of found) {
    if (at.length < 3) continue;
    const own = source.tables.find(({ id }) => id === table)!;
    const start = list === undefined ? '' : `${list}[].`;
    const spreads = at.map((path) => spreadOf(own, start + path));
    const spread = Math.max(...spreads);
    const known = widest.get(called(at));
    if (!known || known.spread < spread)
      widest.set(called(at), { spread, up: spreads.indexOf(Math.min(...spreads)) });
  }
  return found.map((one) => ({ ...one, up: one.at[widest.get(called(one.at))?.up ?? 3] }));
}

/** Tables whose rows, or lists in them, are parts of levels, as far as what points where and names of fields tell: they say where they stand, and what they are or hang on. */
export function guessParts(source: MapSource): PartsWords[] {
  const all = source.tables.flatMap(({ id, fields }, number): PartsWords[] => {
    const own = source.followed.filter(({ from }) => from === number);
    const linked = new Map(own.map((link) => [fields[link.field]!.path, link]));
    const numeric = fields.filter(({ numbers }) => numbers.length > 0).map(({ path }) => path);
    const found: PartsWords[] = [];
    const listed = new Set(numeric.flatMap((path) => /^([^[]+)\[\]\./.exec(path)?.[1] ?? []));
    for (const list of [undefined, ...listed]) {
      const start = list === undefined ? '' : `${list}[].`;
      const within = (path: string): boolean =>
        path.startsWith(start) && !path.slice(start.length).includes('[]');
      const at = placeAmong(numeric.filter(within));
      if (!at) continue;
      const links = [...linked].filter(([path]) => within(path) && !at.includes(path));
      const under = list === undefined ? links.find(([, { to }]) => to === number)?.[0] : undefined;
      const belongs =
        list === undefined
          ? links.find(([path, { to }]) => to !== number && BELONGS.test(last(path)))?.[0]
          : undefined;
      const is = links.map(([path]) => path).filter((path) => path !== under && path !== belongs);
      if (is.length === 0 && under === undefined) continue;
      const strip = (path: string): string => path.slice(start.length);
      const turn = numeric.find((path) => within(path) && TURN.test(last(path)) && !at.includes(path));
      found.push({
        ...{ table: id, list, in: belongs, under, is: is.map(strip), at: at.map(strip) },
        ...{
          turn: turn === undefined ? undefined : strip(turn),
          up: undefined,
        },
      });
    }
    return found;
  });
  return withUp(source, all);
}
