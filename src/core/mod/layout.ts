import type { Archive, Entry } from '../archive';
import { NO_EDITS, withoutDropped, type EditMarks } from './edit/edit-marks';
import {
  asCount,
  flattened,
  RowTable,
  type ArchiveFile,
  type Compiled,
  type Evaluation,
  type Items,
  type RecordNode,
} from '../script';

interface Room {
  /** Where it lay, and how many bytes it took. */
  from: number;
  was: number;
  /** What its place was a multiple of. */
  align: number;
  /** What it has to be a multiple of now, where that is not the same number always. */
  alignNow?: (evaluation: Evaluation) => number;
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
  marks: EditMarks = NO_EDITS,
): LayoutItem[][] {
  const items = archive.files.map((): LayoutItem[] => []);
  addRecords(archive, items, marks);
  addPayloads(archive, changed, items, marks);
  return archive.files.map((file) => inOrder(file, items[file.index]!, keepGaps, marks));
}

/** Bytes of an entry that had none in the file. */
const isNewPayload = ({ sort, was }: LayoutItem): boolean => sort === 'payload' && was === 0;

/**
 * Records of one list that lie one right behind the other are found by counting, so that nothing may come between them. Gives the
 * payloads that lie right behind such a list and have to make way for new records at its end.
 */
function keepRunsWhole(items: LayoutItem[]): ReadonlySet<LayoutItem> {
  const behindNew = new Set<LayoutItem>();
  const payloads = items.filter(isNewPayload);
  if (payloads.length === 0) return behindNew;
  const records = items
    .filter((item) => item.sort === 'record' && item.node.siblings !== undefined)
    .sort((a, b) => a.from - b.from || a.was - b.was) as (LayoutItem & { sort: 'record' })[];
  const runs: { list: Items; start: number; end: number; grows: boolean }[] = [];
  for (const { node, from, was } of records) {
    const list = node.siblings!;
    const last = runs.at(-1);
    if (last?.list === list && from <= last.end) {
      last.grows = from + was > last.end ? false : last.grows || (was === 0 && from === last.end);
      last.end = Math.max(last.end, from + was);
    } else runs.push({ list, start: from, end: from + was, grows: false });
  }
  for (const item of payloads) {
    let [low, high] = [0, runs.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (runs[middle]!.start < item.from) low = middle + 1;
      else high = middle;
    }
    const run = runs[low - 1];
    if (run && item.from < run.end) item.from = run.start;
    else if (run?.grows && item.from === run.end) behindNew.add(item);
  }
  return behindNew;
}

function inOrder(
  { space, index }: ArchiveFile,
  items: LayoutItem[],
  keepGaps: boolean,
  marks: EditMarks,
): LayoutItem[] {
  const behindNew = keepRunsWhole(items);
  // What had no bytes comes before what begins there, a record that is new included.
  const rank = (item: LayoutItem): number => (behindNew.has(item) ? 2 : isNewPayload(item) ? 0 : 1);
  items.sort((a, b) => a.from - b.from || rank(a) - rank(b) || a.was - b.was);
  if (!keepGaps) return items;
  const gone = marks.dropped.filter(({ file }) => file === index);
  const withGaps: LayoutItem[] = [];
  let end = 0;
  const addGap = (to: number, align: number): void => {
    for (const { from, to: stop } of withoutDropped({ from: end, to }, gone, align))
      withGaps.push({ sort: 'gap', from, was: stop - from, align: 1 });
  };
  for (const item of items) {
    if (item.from > end && alignUp(end, item.align) !== item.from) addGap(item.from, item.align);
    withGaps.push(item);
    end = Math.max(end, item.from + item.was);
  }
  if (end < space.source.length) addGap(space.source.length, 1);
  return withGaps;
}

function addRecords(archive: Archive, items: readonly LayoutItem[][], marks: EditMarks): void {
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
        was: marks.tables.get(value) ?? byteLength,
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
      const isFresh = marks.fresh.has(node);
      if (part.each && !isFresh && seen.has(key)) continue;
      if (!isFresh) seen.add(key);
      items[file]!.push({
        sort: 'record',
        node,
        from: node.offset,
        was: isFresh ? 0 : node.length,
        align: unit(node),
        ...(isPinned && (isInEach || node.position === 0) && { pinned: linear.plus }),
      });
    }
  }
}

function addPayloads(
  archive: Archive,
  changed: ReadonlySet<number>,
  items: readonly LayoutItem[][],
  marks: EditMarks,
): void {
  const isNew = ({ index, storedSize }: Entry): boolean =>
    marks.added.has(index) || (storedSize === 0 && changed.has(index));
  const heads = new Set(
    items.flatMap((ofFile, file) => (ofFile.some(({ from }) => from === 0) ? [file] : [])),
  );
  const hasHead = (file: number): boolean => heads.has(file);
  const seats = archive.entries.some(isNew) ? newSeats(archive, isNew, marks, hasHead) : undefined;
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
    const { align: rule, fill } = entry.group;
    const align = rule ? Math.max(1, asCount(rule.run(archive.context, entry.row))) : 1;
    if (found) {
      found.entries.push(entry);
      found.align = commonMultiple(found.align, align);
      continue;
    }
    const isAdded = marks.added.has(entry.index);
    const item: PayloadItem = {
      sort: 'payload',
      entries: [entry],
      from: seats?.(entry) ?? entry.offset,
      was: isAdded ? 0 : entry.storedSize,
      align,
      ...(rule && !isNumber(rule) && { alignNow: unitNow(archive, rule, entry) }),
      changed: own,
      fill,
    };
    const { payload } = entry.group;
    // The first of those that lie in order begins where the script says, in each file.
    if (
      !isAdded &&
      payload.sort === 'in order' &&
      payload.from.linear &&
      payload.from.linear.name === undefined
    ) {
      const group = `${archive.script.entries.indexOf(entry.group)} ${entry.file}`;
      if (!begun.has(group)) item.pinned = entry.offset;
      begun.add(group);
    }
    if (!own) shared.set(key, item);
    items[entry.file]!.push(item);
  }
}

function commonMultiple(a: number, b: number): number {
  let [one, other] = [a, b];
  while (other > 0) [one, other] = [other, one % other];
  return (a / one) * b;
}

const isNumber = ({ linear }: Compiled): boolean => linear !== undefined && linear.name === undefined;

/** The unit that a payload needs by its row as it will be written. */
const unitNow =
  (archive: Archive, rule: Compiled, { index }: Entry) =>
  (evaluation: Evaluation): number =>
    Math.max(1, asCount(rule.run(evaluation, archive.entries[index]!.row)));

/**
 * Where the bytes of entries go that have none in the file as it was: behind all other payloads of their file, or, where
 * payloads lie in the order of the rows, behind that of the row before. An empty entry that stands where another one
 * begins or ends stays there; any other offset of one says nothing.
 */
function newSeats(
  archive: Archive,
  isNew: (entry: Entry) => boolean,
  { added }: EditMarks,
  hasHead: (file: number) => boolean,
): (entry: Entry) => number | undefined {
  const before = new Map<number, number>();
  const last = new Map<string, number>();
  const behindAll = new Map<number, number>();
  const borders = new Set<string>();
  const groupOf = ({ group, file }: Entry): string => `${archive.script.entries.indexOf(group)} ${file}`;
  for (const entry of archive.entries) {
    if (entry.holder ?? entry.pieces) continue;
    const { index, file, offset, storedSize } = entry;
    if (isNew(entry)) {
      const end = last.get(groupOf(entry));
      if (end !== undefined) before.set(index, end);
      continue;
    }
    if (storedSize === 0) continue;
    const end = offset + storedSize;
    last.set(groupOf(entry), end);
    behindAll.set(file, Math.max(behindAll.get(file) ?? 0, end));
    borders.add(`${file} ${offset}`).add(`${file} ${end}`);
  }
  return (entry) => {
    if (!isNew(entry)) return undefined;
    const { index, file, offset, group } = entry;
    if (!added.has(index) && borders.has(`${file} ${offset}`)) return offset;
    const seat = group.anyOrder ? behindAll.get(file) : before.get(index);
    if (seat !== undefined) return seat;
    // The first of all payloads; where the file begins with a head, 0 is the place of none.
    return offset === 0 && hasHead(file) ? archive.files[file]!.space.source.length : offset;
  };
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

/**
 * Gives every item its place, one after the other; `lengthOf` is told the place first. What stays where it was may lie there against
 * its alignment; whatever moves keeps to it.
 */
export function place(
  items: readonly LayoutItem[],
  lengthOf: (item: LayoutItem, place: number) => number,
  unitOf: (item: LayoutItem) => number = ({ align }) => align,
): Placed[] {
  let cursor = 0;
  return items.map((item) => {
    const isNew = isNewPayload(item);
    const stays = (item.from === cursor && !isNew) || item.from === item.pinned;
    const unit = stays ? 1 : unitOf(item);
    let at = alignUp(cursor, unit);
    if (item.pinned !== undefined && item.pinned > at)
      at = item.pinned === item.from ? item.pinned : alignUp(item.pinned, unit);
    // Pinned, but something that is longer now is in the way.
    else if (item.pinned === item.from && at > item.from) at = alignUp(cursor, unitOf(item));
    const length = lengthOf(item, at);
    // What stays empty needs no room before it.
    if (isNew && length === 0) at = cursor;
    const placed = { item, place: at, length, padding: at - cursor };
    cursor = at + length;
    return placed;
  });
}

export const alignUp = (at: number, unit: number): number => Math.ceil(at / unit) * unit;
