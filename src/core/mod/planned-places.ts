import type { Archive } from '../archive';
import { concatRefs, sliceOf, type BytesRef } from '../bytes';
import { asCount, type RecordNode, type RowTable } from '../script';
import type { LayoutItem, Placed } from './layout';
import { paddingOf } from './padding';
import type { Places, WriteEvaluation } from './write-evaluation';

/** Where everything will be; before the first round is through, where it was. */
export class PlannedPlaces implements Places {
  private readonly records = new Map<RecordNode, number>();
  private readonly tables = new Map<RowTable, number>();
  private readonly payloads = new Map<number, number>();
  /** By file: what was placed, and the same in the order in which it was. */
  private readonly placed: (readonly Placed[])[] = [];
  private readonly sorted: (readonly Placed[])[] = [];

  constructor(
    private readonly archive: Archive,
    private readonly evaluation: WriteEvaluation,
    items: readonly (readonly LayoutItem[])[],
    private readonly anew: boolean,
  ) {
    for (const item of items.flat()) this.set(item, item.from);
  }

  set(item: LayoutItem, at: number): void {
    if (item.sort === 'record') this.records.set(item.node, at);
    if (item.sort === 'table') this.tables.set(item.table, at);
    if (item.sort === 'payload') for (const entry of item.entries) this.payloads.set(entry.index, at);
  }

  finish(file: number, placed: readonly Placed[]): void {
    this.placed[file] = placed;
    this.sorted[file] = [...placed].sort((a, b) => a.item.from - b.item.from);
  }

  /** What was placed in a file, in the order of its new places. */
  inFile(file: number): readonly Placed[] {
    return this.placed[file] ?? [];
  }

  sizeOfFile(file: number): number {
    const placed = this.placed[file];
    return placed ? lengthOf(placed) : this.archive.files[file]!.space.source.length;
  }

  /** Records that several rows lead to stand in the layout once, so the others go by where they were. */
  ofRecord(node: RecordNode): number {
    return this.records.get(node) ?? this.moved(node.offset, node.space.file);
  }

  ofTable(table: RowTable): number {
    return this.tables.get(table) ?? this.moved(table.parts.offset, table.parts.space.file);
  }

  /** An empty payload has no item, so its place is told from what lies before it. */
  ofPayload(index: number): number {
    const known = this.payloads.get(index);
    if (known !== undefined) return known;
    const { offset, file, group, row } = this.archive.entries[index]!;
    const at = this.moved(offset, file);
    if (at === offset || !group.align) return at;
    // Down, since behind it the file may end.
    return at - (at % Math.max(1, asCount(group.align.run(this.evaluation, row))));
  }

  moved(from: number, file: number): number {
    const sorted = this.sorted[file] ?? [];
    let low = 0;
    let high = sorted.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (sorted[middle]!.item.from <= from) low = middle + 1;
      else high = middle;
    }
    const before = sorted[low - 1];
    if (!before) return from;
    const { item, place, length } = before;
    const inside = from - item.from;
    if (inside < item.was) return place + Math.min(inside, length);
    // In the padding behind it, as far as there still is any.
    return Math.min(place + length + inside - item.was, this.endBehind(before, file));
  }

  /** Where what lies behind an item begins, or the file ends. */
  private endBehind(one: Placed, file: number): number {
    const placed = this.placed[file]!;
    const next = placed[firstBehind(placed, one.place + one.length)];
    return next && next !== one ? Math.max(next.place, one.place + one.length) : this.sizeOfFile(file);
  }

  span(from: number, length: number, file: number): BytesRef {
    const found: BytesRef[] = [];
    const placed = this.placed[file] ?? [];
    const end = from + length;
    for (let i = firstBehind(placed, from); i < placed.length; i++) {
      const one = placed[i]!;
      const start = one.place - one.padding;
      if (start >= end) break;
      const cut = (bytes: BytesRef, at: number, low: number, high: number): void => {
        if (low < high) found.push(sliceOf(bytes, low - at, high - low));
      };
      if (one.padding > 0 && from < one.place)
        cut(
          paddingOf(this.archive, file, one, this.anew).bytes,
          start,
          Math.max(from, start),
          Math.min(end, one.place),
        );
      const low = Math.max(from, one.place);
      const high = Math.min(end, one.place + one.length);
      if (low >= high) continue;
      if (one.item.sort === 'record')
        found.push(this.evaluation.range(one.item.node, low - one.place, high - one.place));
      else cut(this.bytesOf(one, file), one.place, low, high);
    }
    return concatRefs(found);
  }

  private bytesOf({ item, length }: Placed, file: number): BytesRef {
    if (item.sort === 'record') return this.evaluation.serialise(item.node);
    if (item.sort === 'table') return concatRefs(this.evaluation.piecesOf(item.table));
    if (item.sort === 'payload')
      return this.evaluation.stored({ sort: 'payload', index: item.entries[0]!.index });
    return this.archive.context.span(item.from, length, file);
  }
}

/** The first of those placed in order that ends behind a place. */
function firstBehind(placed: readonly Placed[], place: number): number {
  let low = 0;
  let high = placed.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    const one = placed[middle]!;
    if (one.place + one.length <= place) low = middle + 1;
    else high = middle;
  }
  return low;
}

function lengthOf(placed: readonly Placed[]): number {
  const last = placed.at(-1);
  return last ? last.place + last.length : 0;
}
