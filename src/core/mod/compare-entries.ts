import type { Archive, Entry } from '../archive';
import type { BytesRef } from '../bytes';

/** Whether something is wrong with an entry's bytes. */
export const isBroken = ({ problem }: Entry): boolean => problem !== undefined;

/** The first difference between the entries of two archives, with `compare` for their bytes. */
export function compareEntries(
  a: Archive,
  b: Archive,
  compare: (entry: Entry, there: Entry) => string | undefined,
): string | undefined {
  if (a.entries.length !== b.entries.length)
    return `${a.entries.length} entries have become ${b.entries.length}`;
  for (const entry of a.entries) {
    const there = b.entries[entry.index]!;
    if (there.path !== entry.path) return `entry ${entry.index}, ${entry.path}, has become ${there.path}`;
    if (isBroken(there)) return there.problem!.message;
    const difference = compare(entry, there);
    if (difference) return difference;
  }
  return undefined;
}

/** Decodes all, so that what is checked on the way is checked. */
export function lookThrough(bytes: BytesRef): undefined {
  const chunks = bytes.chunks()[Symbol.iterator]();
  while (!chunks.next().done);
}
