import { collect, refOfBytes, windowOf, type BytesRef } from '@/core/bytes';
import { alignBytes, compareBytes, type Comparison } from '@/core/compare';
import type { ChangeRow } from '@/db';
import { changeRow, preparedBytes } from '../mods/mods';
import { originalOfSlot } from '../mods/original-entry';
import { openedEntry } from '../opening/opened';
import { UserError } from '@/platform/user-error';

/** Larger things are held against each other place by place, without moving anything. */
const MOST_ALIGNED_BYTES = 4 << 20;
const MOST_DIFFERENCES = 2000;

/** Two things held against each other, and how many bytes both have. */
export interface SizedComparison extends Comparison {
  readonly sizes: readonly [number, number];
}

function compareRefs(left: BytesRef, right: BytesRef): SizedComparison {
  const sizes = [left.length, right.length] as const;
  const plain = compareBytes(left, right);
  if (plain.isSame || left.length > MOST_ALIGNED_BYTES || right.length > MOST_ALIGNED_BYTES)
    return { ...plain, sizes };
  const { differences, hasMore } = alignBytes(collect(left), collect(right), MOST_DIFFERENCES);
  const differing = differences.reduce((sum, { length, other }) => sum + Math.max(length, other!.length), 0);
  return { ...plain, differences, hasMore, differing, sizes };
}

/** Two entries held against each other. */
export async function compareEntries(
  gameId: number,
  one: { archiveId: number; index: number },
  other: { archiveId: number; index: number },
): Promise<SizedComparison> {
  const a = await openedEntry(gameId, one.archiveId, one.index);
  const b = await openedEntry(gameId, other.archiveId, other.index);
  return compareRefs(a.archive.plain(a.entry), b.archive.plain(b.entry));
}

/** The old bytes of an entry and the new ones that a build writes in their place. */
export async function compareChange(
  gameId: number,
  modId: number,
  changeId: number,
): Promise<SizedComparison> {
  const { bytes } = await preparedBytes(gameId, modId, changeId);
  return withOldBytes(gameId, await changeRow(gameId, modId, changeId), (old) =>
    compareRefs(old, refOfBytes(bytes)),
  );
}

/** The old bytes `[offset, offset + length)` of an entry that is changed, as they were before any installation. */
export async function oldBytes(
  gameId: number,
  modId: number,
  changeId: number,
  offset: number,
  length: number,
): Promise<Uint8Array> {
  const change = await changeRow(gameId, modId, changeId);
  return withOldBytes(gameId, change, (old) => windowOf(old, offset, length));
}

async function withOldBytes<T>(gameId: number, change: ChangeRow, use: (old: BytesRef) => T): Promise<T> {
  if (change.action !== 'replace')
    throw new UserError(409, `${change.path} has no old bytes: it is not changed, but added or taken out.`);
  const { archive, entry } = await originalOfSlot(gameId, change, change.path);
  return use(archive.plain(entry));
}
