import { KIND_CODES, kindOfCode, type Kind } from '../kinds';
import type { Catalogue } from './catalogue';
import { nameStart } from './lines';

/** A beginning or an end that many names share, spelled as a code of an id table: `vo_*` or `*_hull`. */
export interface Affix {
  readonly affix: string;
  readonly count: number;
  /** The kind that most of them are of. */
  readonly kind: Kind;
  readonly example: string;
}

const UNDERLINE = 95;
const DASH = 45;
const DOT = 46;
const MOST_LENGTH = 16;
const decoder = new TextDecoder();

interface Counted {
  count: number;
  readonly kinds: Uint32Array;
  readonly row: number;
}

/**
 * Beginnings and ends of names, cut off by the first or the last `_` or `-`, that at least two names share, the most frequent
 * first. Mere digits say nothing and are left out. Of each path only the row that answers counts.
 */
export function commonAffixes(catalogue: Catalogue, most: number): Affix[] {
  const { search, wins, count, columns } = catalogue;
  const { lines, ends } = search;
  const found = new Map<string, Counted>();
  const add = (affix: string, row: number): void => {
    let counted = found.get(affix);
    if (!counted) found.set(affix, (counted = { count: 0, kinds: new Uint32Array(KIND_CODES), row }));
    counted.count++;
    counted.kinds[columns.kinds[row]!]!++;
  };
  for (let row = 0; row < count; row++) {
    if (wins[row] !== 1) continue;
    const from = nameStart(search, row);
    let to = ends[row]!;
    let [first, last, dot] = [-1, -1, -1];
    for (let at = from; at < to; at++) {
      const sign = lines[at]!;
      if (sign === DOT) dot = at;
      else if (sign === UNDERLINE || sign === DASH) {
        if (first < 0) first = at;
        if (dot < 0) last = at;
      }
    }
    if (dot > from) to = dot;
    if (last >= to) last = -1;
    if (first > from && first < to && first - from <= MOST_LENGTH) {
      const start = decoder.decode(lines.subarray(from, first + 1));
      if (/\p{L}/u.test(start)) add(`${start}*`, row);
    }
    if (last >= from && last < to - 1 && to - last - 1 <= MOST_LENGTH) {
      const end = decoder.decode(lines.subarray(last, to));
      if (/\p{L}/u.test(end)) add(`*${end}`, row);
    }
  }
  return [...found]
    .filter(([, counted]) => counted.count > 1)
    .sort(([a, x], [b, y]) => y.count - x.count || (a < b ? -1 : 1))
    .slice(0, most)
    .map(([affix, { count: total, kinds, row }]) => ({
      affix,
      count: total,
      kind: kindOfCode(kinds.indexOf(Math.max(...kinds))),
      example: catalogue.path(row),
    }));
}
