import type { Items, RecordNode, RegionNode, RowTable } from '../../script';

/** A stretch of a file. */
export interface Range {
  readonly from: number;
  readonly to: number;
}

/** How an archive that was edited in memory differs from the file it was read from. */
export interface EditMarks {
  /** Records whose length may be another one than was read. */
  readonly stretched: ReadonlySet<RecordNode>;
  /** Lists that have other items than were read. */
  readonly lists: ReadonlySet<Items>;
  /** Regions whose content is another one than was read. */
  readonly regions: ReadonlySet<RegionNode>;
  /** Records that are not in the file. */
  readonly fresh: ReadonlySet<RecordNode>;
  /** Bytes that tables took as they were read. */
  readonly tables: ReadonlyMap<RowTable, number>;
  /** Numbers of entries that are not in the file. */
  readonly added: ReadonlySet<number>;
  /** What lay in the file and is taken out. */
  readonly dropped: readonly (Range & { readonly file: number })[];
  /** Bytes of each piece of entries whose pieces are others than were read. */
  readonly cuts: ReadonlyMap<number, readonly number[]>;
}

export const NO_EDITS: EditMarks = {
  stretched: new Set(),
  lists: new Set(),
  regions: new Set(),
  fresh: new Set(),
  tables: new Map(),
  added: new Set(),
  dropped: [],
  cuts: new Map(),
};

/**
 * What is left of a stretch without those that were taken out. Bits beside these that are shorter than the alignment were their
 * padding, and go with them.
 */
export function withoutDropped(gap: Range, dropped: readonly Range[], align: number): Range[] {
  const own = dropped
    .filter(({ from, to }) => from < gap.to && to > gap.from)
    .sort((a, b) => a.from - b.from || a.to - b.to);
  if (own.length === 0) return [gap];
  const left: Range[] = [];
  let at = gap.from;
  for (const { from, to } of own) {
    if (from - at >= align) left.push({ from: at, to: from });
    at = Math.max(at, Math.min(to, gap.to));
  }
  if (gap.to - at >= align) left.push({ from: at, to: gap.to });
  return left;
}
