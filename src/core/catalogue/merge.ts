import { mergeFacts, type FactColumn } from './facts';
import { gathered, type EntryColumns } from './fields';
import { nameStart, startsOf, type Lines } from './lines';
import type { Listing } from './listing';
import { sortedRows } from './sort-lines';

/** What all open archives of a game hold, in columns sorted by path; what of it answers depends on the load order. */
export interface CatalogueColumns extends Lines, EntryColumns {
  readonly count: number;
  /** Position of each row's archive in the list that was merged. */
  readonly archives: Uint16Array;
  /** Fields that scripts show of entries. */
  readonly facts: readonly FactColumn[];
  /** Rows in the order of their names alone. */
  readonly byName: Uint32Array;
}

/** More archives than a number of 16 bits counts are refused where the folder is scanned. */
export const MOST_ARCHIVES = 65_535;

/** Puts the listings of archives together. Rows of one path stand in the order of their archives. */
export function mergeListings(listings: readonly Listing[]): CatalogueColumns {
  const count = listings.reduce((sum, listing) => sum + listing.count, 0);
  // All lines one behind the other, as they stand in their listings.
  const bases = new Uint32Array(listings.length);
  const bytes = listings.reduce((sum, { lines }) => sum + lines.length, 0);
  const joined = new Uint8Array(bytes);
  const joinedEnds = new Uint32Array(count);
  const from = new Uint16Array(count);
  let [base, byteBase] = [0, 0];
  listings.forEach((listing, i) => {
    bases[i] = base;
    joined.set(listing.lines, byteBase);
    for (let row = 0; row < listing.count; row++) joinedEnds[base + row] = byteBase + listing.ends[row]!;
    from.fill(i, base, base + listing.count);
    base += listing.count;
    byteBase += listing.lines.length;
  });
  const starts = startsOf({ lines: joined, ends: joinedEnds });
  const order = sortedRows({ lines: joined, starts, ends: joinedEnds });
  const of = new Uint16Array(count);
  const rowOf = new Uint32Array(count);
  const lines = new Uint8Array(bytes);
  const ends = new Uint32Array(count);
  let at = 0;
  for (let i = 0; i < count; i++) {
    const row = order[i]!;
    of[i] = from[row]!;
    rowOf[i] = row - bases[of[i]!]!;
    for (let read = starts[row]!, end = joinedEnds[row]!; read <= end; read++) lines[at++] = joined[read]!;
    ends[i] = at - 1;
  }
  return {
    count,
    lines,
    ends,
    archives: of,
    ...gathered(listings, of, rowOf),
    facts: mergeFacts(listings, of, rowOf),
    byName: orderByName({ lines, ends }),
  };
}

/** Letters of both cases count as one. */
const FOLDED = Uint8Array.from({ length: 256 }, (_, byte) => (byte >= 65 && byte <= 90 ? byte + 32 : byte));

/** Rows in the order of their names alone; equal names in the order of their paths. */
function orderByName(of: Lines): Uint32Array {
  const starts = Uint32Array.from({ length: of.ends.length }, (_, row) => nameStart(of, row));
  return sortedRows({ lines: of.lines, starts, ends: of.ends }, FOLDED);
}
