import type { Archive } from '../archive';
import { collect, refOfBytes, type BytesRef } from '../bytes';
import type { Items, RecordNode, RowTable } from '../script';
import type { LayoutItem, Placed } from './layout';
import type { Places, WriteEvaluation } from './write-evaluation';

/** Where everything will be; before the first round is through, where it was. */
export class PlannedPlaces implements Places {
  fileSize: number;
  private readonly records = new Map<RecordNode, number>();
  private readonly tables = new Map<unknown, number>();
  private readonly payloads = new Map<number, number>();
  private sorted: readonly Placed[] = [];
  private placed: readonly Placed[] = [];

  constructor(
    private readonly archive: Archive,
    private readonly evaluation: WriteEvaluation,
    items: readonly LayoutItem[],
  ) {
    this.fileSize = archive.source.length;
    for (const item of items) this.set(item, item.from);
  }

  set(item: LayoutItem, at: number): void {
    if (item.sort === 'record') this.records.set(item.node, at);
    if (item.sort === 'table') this.tables.set(item.table, at);
    if (item.sort === 'payload') for (const entry of item.entries) this.payloads.set(entry.index, at);
  }

  finish(placed: readonly Placed[]): void {
    this.placed = placed;
    this.sorted = [...placed].sort((a, b) => a.item.from - b.item.from);
    const last = placed.at(-1);
    this.fileSize = last ? last.place + last.length : 0;
  }

  /** Records that several rows lead to stand in the layout once, so the others go by where they were. */
  ofRecord(node: RecordNode): number {
    return this.records.get(node) ?? this.moved(node.offset);
  }

  ofTable(table: Items): number {
    return this.tables.get(table) ?? this.moved((table as RowTable).parts.offset);
  }

  /** An empty payload has no item, so its place is told from what lies before it. */
  ofPayload(index: number): number {
    return this.payloads.get(index) ?? this.moved(this.archive.entries[index]!.offset);
  }

  moved(from: number): number {
    let low = 0;
    let high = this.sorted.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.sorted[middle]!.item.from <= from) low = middle + 1;
      else high = middle;
    }
    const before = this.sorted[low - 1];
    return before
      ? before.place + Math.min(from - before.item.from, Math.max(before.length, before.item.was))
      : from;
  }

  span(from: number, length: number): BytesRef {
    const out = new Uint8Array(length);
    for (const { item, place, length: long } of this.placed) {
      if (place >= from + length || place + long <= from || long === 0) continue;
      const bytes = collect(this.bytesOf(item, long));
      const start = Math.max(from, place);
      out.set(bytes.subarray(start - place, Math.min(from + length, place + long) - place), start - from);
    }
    return refOfBytes(out);
  }

  private bytesOf(item: LayoutItem, length: number): BytesRef {
    if (item.sort === 'record') return this.evaluation.serialise(item.node);
    if (item.sort === 'table') {
      const parts = this.evaluation.piecesOf(item.table).map(collect);
      const all = new Uint8Array(length);
      let at = 0;
      for (const part of parts) {
        all.set(part, at);
        at += part.length;
      }
      return refOfBytes(all);
    }
    if (item.sort === 'payload')
      return this.evaluation.stored({ sort: 'payload', index: item.entries[0]!.index });
    return this.archive.context.span(item.from, length);
  }
}
