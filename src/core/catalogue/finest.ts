import type { Catalogue } from './catalogue';
import { FLAG } from './listing';

/** More that are called nearly the same are a series, not ways to make one thing. */
const MOST_ALIKE = 64;

/**
 * What the name of a path may have in common with others that are alike: folder and ending, with the words of the name but for one, which
 * is each of them in turn. A name of one word has none: there, nothing would be left of it.
 */
export function alikeKeys(path: string): string[] {
  const from = path.lastIndexOf('/') + 1;
  const point = path.lastIndexOf('.');
  const to = point > from ? point : path.length;
  const name = path.slice(from, to).toLowerCase();
  // Letters, digits and what stands between them; the latter is kept, so that words are not taken for others that are put together.
  const words = name.match(/\p{L}+|\p{N}+|[^\p{L}\p{N}]+/gu) ?? [];
  const places = words.flatMap((word, i) => (/[\p{L}\p{N}]/u.test(word) ? [i] : []));
  if (places.length < 2) return [];
  return places.map((at) =>
    [
      path.slice(0, from),
      ...words.map((word, i) => (i === at ? '\n' : word)),
      path.slice(to).toLowerCase(),
    ].join(''),
  );
}

type Groups = ReadonlyMap<string, readonly number[]>;

/** What was worked out for some measures, folder by folder; those are others as soon as the load order is. */
const KNOWN = new WeakMap<Float64Array, Map<string, Groups>>();

/** The rows of one folder by what they have in common: of those that answer, have a name, and have triangles. */
function groupsIn(catalogue: Catalogue, folder: string, triangles: Float64Array): Groups {
  const known = KNOWN.get(triangles) ?? new Map<string, Groups>();
  KNOWN.set(triangles, known);
  const before = known.get(folder);
  if (before) return before;
  const groups = new Map<string, number[]>();
  const [from, to] = catalogue.within(folder);
  for (let row = from; row < to; row++) {
    if (!isCounted(catalogue, row, triangles)) continue;
    const path = catalogue.path(row);
    if (folderOf(path) !== folder) continue;
    for (const key of alikeKeys(path)) {
      const rows = groups.get(key);
      if (rows) rows.push(row);
      else groups.set(key, [row]);
    }
  }
  known.set(folder, groups);
  return groups;
}

const folderOf = (path: string): string => path.slice(0, path.lastIndexOf('/') + 1);

const isCounted = ({ columns, wins }: Catalogue, row: number, triangles: Float64Array): boolean =>
  !Number.isNaN(triangles[row]) && wins[row] === 1 && (columns.flags[row]! & FLAG.named) !== 0;

/** The groups that a row belongs to with others, where these are few enough to be ways to make one thing. */
function groupsOf(catalogue: Catalogue, row: number, triangles: Float64Array): (readonly number[])[] {
  if (!isCounted(catalogue, row, triangles)) return [];
  const path = catalogue.path(row);
  const groups = groupsIn(catalogue, folderOf(path), triangles);
  return alikeKeys(path)
    .map((key) => groups.get(key) ?? [])
    .filter(({ length }) => length > 1 && length <= MOST_ALIKE);
}

/** Whether a row has the most triangles of several that are alike in name, where others of those have fewer. */
export function isFinest(catalogue: Catalogue, row: number): boolean {
  const triangles = catalogue.measures?.of.triangles;
  if (!triangles) return false;
  const own = triangles[row]!;
  return groupsOf(catalogue, row, triangles).some(
    (rows) =>
      rows.every((other) => triangles[other]! <= own) && rows.some((other) => triangles[other]! < own),
  );
}

/** The rows of models that are alike in name to that of a row, itself among them, the finest first; none where it stands alone. */
export function alikeInName(catalogue: Catalogue, row: number): number[] {
  const triangles = catalogue.measures?.of.triangles;
  if (!triangles) return [];
  const found = new Set(groupsOf(catalogue, row, triangles).flat());
  return [...found].sort((a, b) => triangles[b]! - triangles[a]! || a - b);
}
