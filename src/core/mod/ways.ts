import type { Archive } from '../archive';
import { FormatError, toHex, type BytesRef } from '../bytes';
import { asCount, describeValue } from '../script';
import { alignUp, type LayoutItem, type PayloadItem } from './layout';
import type { NewPayload, WriteEvaluation } from './write-evaluation';

/**
 * Where things go when an archive is written. `shifted`: everything stays in its order, and what lies behind a
 * change makes room. `appended`: what is unchanged keeps its place, and a changed entry that no longer fits goes
 * behind the last one. `packed`: places chosen anew, without the gaps.
 */
export const WAYS = ['shifted', 'appended', 'packed'] as const;
export type Way = (typeof WAYS)[number];

const isPayload = (item: LayoutItem): item is PayloadItem => item.sort === 'payload';

/** Keeps every place but those of changed entries that have outgrown it. */
export function appendChanged(
  items: readonly LayoutItem[],
  payloads: ReadonlyMap<number, NewPayload>,
): LayoutItem[] {
  const kept: LayoutItem[] = [];
  const moved: LayoutItem[] = [];
  let tail = items.length;
  while (tail > 0 && items[tail - 1]!.pinned === undefined && isTable(items[tail - 1]!)) tail--;
  for (const item of items.slice(0, tail)) {
    const length =
      isPayload(item) && item.changed ? payloads.get(item.entries[0]!.index)!.stored.length : item.was;
    if (isPayload(item) && length !== item.was) refuseFollowed(item, length);
    const outgrown = length > item.was;
    if (!outgrown) {
      kept.push({ ...item, pinned: item.from });
      continue;
    }
    if (isPayload(item) && !item.entries[0]!.group.anyOrder)
      throw new FormatError('not-writable', {
        fieldPath: item.entries[0]!.path,
        expected: 'payloads that may change places',
        why: 'the script says that they lie in a fixed order',
        remedy: 'Let the others make room instead',
      });
    if (item.was > 0) kept.push({ sort: 'gap', from: item.from, was: item.was, align: 1, pinned: item.from });
    moved.push(item);
  }
  return [...kept, ...moved, ...items.slice(tail)];
}

/** Where payloads follow each other, those behind one of another length cannot stay where they are. */
function refuseFollowed(item: PayloadItem, length: number): void {
  const [entry] = item.entries;
  if (entry!.group.payload.sort !== 'in order') return;
  if (alignUp(item.from + length, item.align) === alignUp(item.from + item.was, item.align)) return;
  throw new FormatError('not-writable', {
    fieldPath: entry!.path,
    expected: `${item.was} stored bytes, as before`,
    actual: `${length}`,
    why: 'payloads follow each other here, so none can stay where it is when one before it changes its length',
    remedy: 'Let the others make room instead',
  });
}

/** A payload inside a record is as long as its record, so that all behind it moves. */
export function refuseHeld(archive: Archive, payloads: ReadonlyMap<number, NewPayload>): void {
  for (const [index, { stored }] of payloads) {
    const { holder, pieces, path, storedSize } = archive.entries[index]!;
    if ((!holder && !pieces) || stored.length === storedSize) continue;
    throw new FormatError('not-writable', {
      fieldPath: path,
      expected: `${storedSize} stored bytes, as before`,
      actual: `${stored.length}`,
      why: 'its bytes lie inside a record, so that what is behind it cannot keep its place',
      remedy: 'Let the others make room instead',
    });
  }
}

const isTable = (item: LayoutItem): boolean => item.sort === 'record' || item.sort === 'table';

/**
 * Where the script stores equal payloads once, a changed entry shares the place of one with the same stored
 * bytes. `all` looks at unchanged ones as well.
 */
export function shareIdentical(
  archive: Archive,
  items: readonly LayoutItem[],
  payloads: ReadonlyMap<number, NewPayload>,
  all: boolean,
): LayoutItem[] {
  const once = items.filter((item) => isPayload(item) && item.entries[0]!.group.identical === 'once');
  if (once.length < 2 || !(all || once.some((item) => isPayload(item) && item.changed))) return [...items];
  const storedOf = (item: PayloadItem): BytesRef => {
    const entry = item.entries[0]!;
    return payloads.get(entry.index)?.stored ?? archive.stored(entry);
  };
  const sizes = new Map<number, PayloadItem[]>();
  for (const item of once as PayloadItem[]) {
    const { length } = storedOf(item);
    sizes.set(length, [...(sizes.get(length) ?? []), item]);
  }
  const gone = new Set<LayoutItem>();
  const digests = new Map<LayoutItem, string>();
  const digestOf = (item: PayloadItem): string => {
    let digest = digests.get(item);
    if (digest === undefined) {
      const hash = archive.context.primitives.digest('sha256');
      for (const chunk of storedOf(item).chunks()) hash.update(chunk);
      digests.set(item, (digest = toHex(hash.value())));
    }
    return digest;
  };
  for (const same of sizes.values()) {
    if (same.length < 2 || !(all || same.some(({ changed }) => changed))) continue;
    const firsts = new Map<string, PayloadItem>();
    // Unchanged ones come first, so that a change goes to them and not they to it.
    for (const item of [...same].sort((a, b) => Number(a.changed) - Number(b.changed))) {
      const first = firsts.get(digestOf(item));
      if (!first) firsts.set(digestOf(item), item);
      else if ((all || item.changed) && first.align % item.align === 0) {
        first.entries.push(...item.entries);
        gone.add(item);
      }
    }
  }
  return items.filter((item) => !gone.has(item));
}

/** Refuses places that the tables do not tell, as where a payload lies right behind a record of its own. */
export function refuseTiedPlaces(
  archive: Archive,
  evaluation: WriteEvaluation,
  payloads: ReadonlyMap<number, NewPayload>,
): void {
  for (const index of payloads.keys()) {
    const { group, row, path } = archive.entries[index]!;
    if (group.payload.sort !== 'placed') continue;
    const told = group.payload.at.run(evaluation, row);
    const at = evaluation.place({ sort: 'payload', index });
    if (asCount(told) !== at)
      throw new FormatError('not-writable', {
        fieldPath: path,
        expected: `place ${at}`,
        actual: describeValue(told),
        why: 'this payload lies right behind a record of its own, which keeps its place',
        remedy: 'Let the others make room instead',
      });
  }
}
