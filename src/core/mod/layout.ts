import type { Archive, Entry } from '../archive';
import { asCount, flattened, RowTable, type ArchiveFile, type Items, type RecordNode } from '../script';

interface Room {
  /** Where it lay, and how many bytes it took. */
  from: number;
  was: number;
  align: number;
  /** The place that it must not come before. */
  pinned?: number;
}

/** Something that takes up room in a file, in the order in which it lies. */
export type LayoutItem =
  | (Room & { sort: 'record'; node: RecordNode })
  | (Room & { sort: 'table'; table: RowTable })
  | (Room & { sort: 'payload'; entries: Entry[]; changed: boolean; fill: number })
  | (Room & { sort: 'gap' });

export type PayloadItem = LayoutItem & { sort: 'payload' };

export interface Placed {
  readonly item: LayoutItem;
  /** Offset in the new file. */
  readonly place: number;
  readonly length: number;
  /** Bytes between the item before and this one. */
  readonly padding: number;
}

/**
 * What lies in each file of an archive in the order of its places: records of parts, payloads (one for all
 * entries that share it) and the stretches that nothing explains.
 */
export function layoutItems(
  archive: Archive,
  changed: ReadonlySet<number>,
  keepGaps: boolean,
): LayoutItem[][] {
  const items = archive.files.map((): LayoutItem[] => []);
  addRecords(archive, items);
  addPayloads(archive, changed, items);
  return archive.files.map((file) => inOrder(file, items[file.index]!, keepGaps));
}

function inOrder({ space }: ArchiveFile, items: LayoutItem[], keepGaps: boolean): LayoutItem[] {
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
  const { length } = space.source;
  if (end < length) withGaps.push({ sort: 'gap', from: end, was: length - end, align: 1 });
  return withGaps;
}

function addRecords(archive: Archive, items: readonly LayoutItem[][]): void {
  const { context } = archive;
  for (const part of archive.script.parts) {
    const value = context.part(part.name);
    const unit = (node: RecordNode | undefined): number =>
      part.align ? Math.max(1, asCount(part.align.run(context, node))) : 1;
    // A place that is worked out, from a mark that is searched for say, may move.
    const { linear } = part.at;
    const isPinned = linear !== undefined && linear.name === undefined && !part.next && !part.each;
    if (value instanceof RowTable) {
      const { offset, byteLength, space } = value.parts;
      const item: LayoutItem = {
        sort: 'table',
        table: value,
        from: offset,
        was: byteLength,
        align: unit(undefined),
      };
      items[space.file]!.push(isPinned ? { ...item, pinned: offset } : item);
      continue;
    }
    const nodes: Items = flattened(value, context);
    const isInEach = part.file && !part.file.number && nodes.length > 1;
    const seen = new Set<string>();
    for (let i = 0; i < nodes.length; i++) {
      const node = nodes.at(i) as RecordNode;
      // Several rows may lead to the same record, which lies in the file once.
      const { file } = node.space;
      const key = `${file} ${node.offset}`;
      if (part.each && seen.has(key)) continue;
      seen.add(key);
      items[file]!.push({
        sort: 'record',
        node,
        from: node.offset,
        was: node.length,
        align: unit(node),
        ...(isPinned && (isInEach || node.position === 0) && { pinned: node.offset }),
      });
    }
  }
}

function addPayloads(archive: Archive, changed: ReadonlySet<number>, items: readonly LayoutItem[][]): void {
  const shared = new Map<string, PayloadItem>();
  /** Groups whose first payload in a file has been seen. */
  const begun = new Set<string>();
  for (const entry of archive.entries) {
    if (entry.holder ?? entry.pieces) continue;
    const own = changed.has(entry.index);
    // An empty payload has no bytes to place, so it only needs an item once it gets some.
    if (entry.storedSize === 0 && !own) continue;
    const key = `${entry.file} ${entry.offset}+${entry.storedSize}`;
    const found = own ? undefined : shared.get(key);
    if (found) {
      found.entries.push(entry);
      continue;
    }
    const { align, fill } = entry.group;
    const item: PayloadItem = {
      sort: 'payload',
      entries: [entry],
      from: entry.offset,
      was: entry.storedSize,
      align: align ? Math.max(1, asCount(align.run(archive.context, entry.row))) : 1,
      changed: own,
      fill,
    };
    const { payload } = entry.group;
    // The first of those that lie in order begins where the script says, in each file.
    if (payload.sort === 'in order' && payload.from.linear && payload.from.linear.name === undefined) {
      const group = `${archive.script.entries.indexOf(entry.group)} ${entry.file}`;
      if (!begun.has(group)) item.pinned = entry.offset;
      begun.add(group);
    }
    if (!own) shared.set(key, item);
    items[entry.file]!.push(item);
  }
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
    if (item.pinned !== undefined) at = Math.max(at, item.pinned);
    const length = lengthOf(item, at);
    const placed = { item, place: at, length, padding: at - cursor };
    cursor = at + length;
    sourceEnd = Math.max(sourceEnd, item.from + item.was);
    return placed;
  });
}

export const alignUp = (at: number, unit: number): number => Math.ceil(at / unit) * unit;
