import type { Archive, Entry } from '../archive';
import { asCount, flattened, RowTable, type Items, type RecordNode } from '../script';

/** Something that takes up room in the file, in the order in which it lies. */
export type LayoutItem =
  | { sort: 'record'; node: RecordNode; from: number; was: number; align: number; pinned?: number }
  | { sort: 'table'; table: RowTable; from: number; was: number; align: number; pinned?: number }
  | {
      sort: 'payload';
      entries: Entry[];
      from: number;
      was: number;
      align: number;
      pinned?: number;
      changed: boolean;
      fill: number;
    }
  | { sort: 'gap'; from: number; was: number; align: 1 };

export interface Placed {
  readonly item: LayoutItem;
  /** Offset in the new file. */
  readonly place: number;
  readonly length: number;
  /** Bytes between the item before and this one. */
  readonly padding: number;
}

/**
 * What lies in an archive in the order of its places: records of parts, payloads (one for all entries
 * that share it) and the stretches that nothing explains.
 */
export function layoutItems(archive: Archive, changed: ReadonlySet<number>, keepGaps: boolean): LayoutItem[] {
  const items: LayoutItem[] = [...recordItems(archive), ...payloadItems(archive, changed)];
  items.sort((a, b) => a.from - b.from || a.was - b.was);
  if (!keepGaps) return items;
  const withGaps: LayoutItem[] = [];
  let end = 0;
  for (const item of items) {
    const gap = item.from - end;
    if (gap > 0 && alignUp(end, item.align) !== item.from)
      withGaps.push({ sort: 'gap', from: end, was: gap, align: 1 });
    withGaps.push(item);
    end = Math.max(end, item.from + item.was);
  }
  if (end < archive.source.length)
    withGaps.push({ sort: 'gap', from: end, was: archive.source.length - end, align: 1 });
  return withGaps;
}

function recordItems(archive: Archive): LayoutItem[] {
  const { context } = archive;
  return archive.script.parts.flatMap((part): LayoutItem[] => {
    const value = context.part(part.name);
    const unit = (node: RecordNode | undefined): number =>
      part.align ? Math.max(1, asCount(part.align.run(context, node))) : 1;
    // A place that is worked out, from a mark that is searched for say, may move.
    const { linear } = part.at;
    const isPinned = linear !== undefined && linear.name === undefined && !part.next && !part.each;
    if (value instanceof RowTable) {
      const { offset, byteLength } = value.parts;
      const item: LayoutItem = {
        sort: 'table',
        table: value,
        from: offset,
        was: byteLength,
        align: unit(undefined),
      };
      return [isPinned ? { ...item, pinned: offset } : item];
    }
    const nodes: Items = flattened(value, context);
    const items: LayoutItem[] = [];
    const seen = new Set<number>();
    for (let i = 0; i < nodes.length; i++) {
      const node = nodes.at(i) as RecordNode;
      // Several rows may lead to the same record, which lies in the file once.
      if (part.each && seen.has(node.offset)) continue;
      seen.add(node.offset);
      items.push({
        sort: 'record',
        node,
        from: node.offset,
        was: node.length,
        align: unit(node),
        ...(isPinned && node.position === 0 && { pinned: node.offset }),
      });
    }
    return items;
  });
}

function payloadItems(archive: Archive, changed: ReadonlySet<number>): LayoutItem[] {
  const shared = new Map<string, LayoutItem & { sort: 'payload' }>();
  const items: LayoutItem[] = [];
  for (const entry of archive.entries) {
    if (entry.holder) continue;
    const own = changed.has(entry.index);
    // An empty payload has no bytes to place, so it only needs an item once it gets some.
    if (entry.storedSize === 0 && !own) continue;
    const key = `${entry.offset}+${entry.storedSize}`;
    const found = own ? undefined : shared.get(key);
    if (found) {
      found.entries.push(entry);
      continue;
    }
    const { align, fill } = entry.group;
    const item: LayoutItem & { sort: 'payload' } = {
      sort: 'payload',
      entries: [entry],
      from: entry.offset,
      was: entry.storedSize,
      align: align ? Math.max(1, asCount(align.run(archive.context, entry.row))) : 1,
      changed: own,
      fill,
    };
    const { payload } = entry.group;
    // The first of those that lie in order begins where the script says.
    if (
      payload.sort === 'in order' &&
      entry.row.position === 0 &&
      payload.from.linear?.name === undefined &&
      payload.from.linear
    )
      item.pinned = entry.offset;
    if (!own) shared.set(key, item);
    items.push(item);
  }
  return items;
}

/**
 * Turns each run of neighbouring payloads by one, so that every one of them gets another place. A field
 * that only happened to be right because nothing moved is found out by that.
 */
export function rotatePayloads(items: LayoutItem[]): LayoutItem[] {
  const turned: LayoutItem[] = [];
  const moves = (item: LayoutItem): boolean => item.sort === 'payload' && item.entries[0]!.group.anyOrder;
  for (let i = 0; i < items.length;) {
    let end = i;
    while (end < items.length && moves(items[end]!)) end++;
    if (end - i > 1) turned.push(...items.slice(i + 1, end), items[i]!);
    else turned.push(...items.slice(i, Math.max(end, i + 1)));
    i = Math.max(end, i + 1);
  }
  return turned;
}

/** Gives every item its place, one after the other; `lengthOf` is told the place first. */
export function place(
  items: readonly LayoutItem[],
  lengthOf: (item: LayoutItem, place: number) => number,
): Placed[] {
  let cursor = 0;
  let sourceEnd = 0;
  return items.map((item) => {
    const aligned = item.from === alignUp(sourceEnd, item.align) || item.from % item.align === 0;
    let at = aligned ? alignUp(cursor, item.align) : cursor;
    if (item.sort !== 'gap' && item.pinned !== undefined) at = Math.max(at, item.pinned);
    const length = lengthOf(item, at);
    const placed = { item, place: at, length, padding: at - cursor };
    cursor = at + length;
    sourceEnd = Math.max(sourceEnd, item.from + item.was);
    return placed;
  });
}

export const alignUp = (at: number, unit: number): number => Math.ceil(at / unit) * unit;
