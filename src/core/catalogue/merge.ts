import { nameStart, compareLines, lineStart, type Lines } from './lines';
import { FLAG, type Listing } from './listing';

/** What all open archives of a game hold, in columns sorted by path; what of it answers depends on the load order. */
export interface CatalogueColumns extends Lines {
  readonly count: number;
  /** Position of each row's archive in the list that was merged. */
  readonly archives: Uint16Array;
  readonly numbers: Uint32Array;
  readonly sizes: Float64Array;
  readonly stored: Float64Array;
  readonly modified: Float64Array;
  readonly kinds: Uint8Array;
  readonly flags: Uint8Array;
  readonly hashLow: Uint32Array;
  readonly hashHigh: Uint32Array;
  /** Rows in the order of their names alone. */
  readonly byName: Uint32Array;
}

/** More archives than a number of 16 bits counts are refused where the folder is scanned. */
export const MOST_ARCHIVES = 65_535;

/** Puts the listings of archives together. Rows of one path stand in the order of their archives. */
export function mergeListings(listings: readonly Listing[]): CatalogueColumns {
  const count = listings.reduce((sum, listing) => sum + listing.count, 0);
  const order = mergedOrder(listings, count);
  const { of, row: rowOf } = order;
  const bytes = listings.reduce((sum, { lines }) => sum + lines.length, 0);
  const lines = new Uint8Array(bytes);
  const ends = new Uint32Array(count);
  let at = 0;
  for (let i = 0; i < count; i++) {
    const listing = listings[of[i]!]!;
    const row = rowOf[i]!;
    const end = listing.ends[row]!;
    for (let from = lineStart(listing, row); from <= end; from++) lines[at++] = listing.lines[from]!;
    ends[i] = at - 1;
  }
  const collect = <T extends Uint8Array | Uint32Array | Float64Array>(
    to: T,
    column: (listing: Listing) => T,
  ): T => {
    const columns = listings.map(column);
    for (let i = 0; i < count; i++) to[i] = columns[of[i]!]![rowOf[i]!]!;
    return to;
  };
  return {
    count,
    lines,
    ends,
    archives: of,
    numbers: collect(new Uint32Array(count), ({ numbers }) => numbers),
    sizes: collect(new Float64Array(count), ({ sizes }) => sizes),
    stored: collect(new Float64Array(count), ({ stored }) => stored),
    modified: collect(new Float64Array(count), ({ modified }) => modified),
    kinds: collect(new Uint8Array(count), ({ kinds }) => kinds),
    flags: collect(new Uint8Array(count), ({ flags }) => flags),
    hashLow: collect(new Uint32Array(count), ({ hashLow }) => hashLow),
    hashHigh: collect(new Uint32Array(count), ({ hashHigh }) => hashHigh),
    byName: orderByName({ lines, ends }),
  };
}

interface Order {
  readonly of: Uint16Array;
  readonly row: Uint32Array;
}

/** Two runs at a time, as a merge sort from its leaves; runs that lie behind each other are only put together. */
function mergedOrder(listings: readonly Listing[], count: number): Order {
  let runs: Order[] = listings.map((listing, i) => ({
    of: new Uint16Array(listing.count).fill(i),
    row: Uint32Array.from({ length: listing.count }, (_, row) => row),
  }));
  if (runs.length === 0) return { of: new Uint16Array(count), row: new Uint32Array(count) };
  while (runs.length > 1) {
    const next: Order[] = [];
    for (let i = 0; i + 1 < runs.length; i += 2) next.push(mergeTwo(listings, runs[i]!, runs[i + 1]!));
    if (runs.length % 2 === 1) next.push(runs.at(-1)!);
    runs = next;
  }
  return runs[0]!;
}

function mergeTwo(listings: readonly Listing[], a: Order, b: Order): Order {
  const [lengthA, lengthB] = [a.row.length, b.row.length];
  const of = new Uint16Array(lengthA + lengthB);
  const row = new Uint32Array(lengthA + lengthB);
  const compare = (i: number, j: number): number =>
    compareLines(listings[a.of[i]!]!, a.row[i]!, listings[b.of[j]!]!, b.row[j]!);
  const put = (from: Order, first: number, last: number, at: number): void => {
    of.set(from.of.subarray(first, last), at);
    row.set(from.row.subarray(first, last), at);
  };
  let [i, j, at] = [0, 0, 0];
  if (lengthA > 0 && lengthB > 0 && compare(lengthA - 1, 0) <= 0) {
    put(a, 0, lengthA, 0);
    [i, at] = [lengthA, lengthA];
  } else if (lengthA > 0 && lengthB > 0 && compare(0, lengthB - 1) > 0) {
    put(b, 0, lengthB, 0);
    [j, at] = [lengthB, lengthB];
  }
  while (i < lengthA && j < lengthB) {
    if (compare(i, j) <= 0) {
      of[at] = a.of[i]!;
      row[at++] = a.row[i++]!;
    } else {
      of[at] = b.of[j]!;
      row[at++] = b.row[j++]!;
    }
  }
  put(a, i, lengthA, at);
  put(b, j, lengthB, at + lengthA - i);
  return { of, row };
}

/** Bytes of a name that the first, coarse order goes by. */
const COARSE_BYTES = 6;
const CASE_BIT = 32;

/** Rows in the order of their names, letters of both cases as one; equal names in the order of their paths. */
function orderByName(of: Lines): Uint32Array {
  const { lines, ends } = of;
  const count = ends.length;
  const starts = Uint32Array.from({ length: count }, (_, row) => nameStart(of, row));
  const folded = (at: number): number => {
    const byte = lines[at]!;
    return byte >= 65 && byte <= 90 ? byte | CASE_BIT : byte;
  };
  const coarse = new Float64Array(count);
  for (let row = 0; row < count; row++) {
    let key = 0;
    for (let i = 0; i < COARSE_BYTES; i++) {
      const at = starts[row]! + i;
      key = key * 256 + (at < ends[row]! ? folded(at) : 0);
    }
    coarse[row] = key;
  }
  const order = Uint32Array.from({ length: count }, (_, i) => i);
  return order.sort((a, b) => {
    if (coarse[a] !== coarse[b]) return coarse[a]! - coarse[b]!;
    let atA = starts[a]! + COARSE_BYTES;
    let atB = starts[b]! + COARSE_BYTES;
    const [endA, endB] = [ends[a]!, ends[b]!];
    for (; atA < endA && atB < endB; atA++, atB++) {
      const difference = folded(atA) - folded(atB);
      if (difference !== 0) return difference;
    }
    return endA - atA - (endB - atB) || a - b;
  });
}

/** Whether the row's name is known. */
export const isNamed = ({ flags }: CatalogueColumns, row: number): boolean =>
  (flags[row]! & FLAG.named) !== 0;
