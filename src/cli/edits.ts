import { refOfSpan, type BytesRef } from '@/core/bytes';
import { type Archive, type Entry } from '@/core/archive';
import { editEntries, newPieces, type EditMarks } from '@/core/mod';
import { openFileSource } from '@/platform/node/file-source';
import { UsageError } from './usage-error';

/** What is to be added to an archive and taken out of it, as the command line says it. */
export interface AskedEdits {
  readonly add: readonly { readonly target: string; readonly file: string }[];
  readonly remove: readonly string[];
}

export interface Edited {
  /** New bytes by entry number as it is now. */
  readonly changes: Map<number, BytesRef>;
  readonly marks: EditMarks | undefined;
  /** The archive as it is to be, and the number that each entry has there. */
  readonly archive: Archive;
  readonly newNumbers: Int32Array;
}

/** Edits an archive in memory; changes given by the numbers of before come back by those of after. */
export function edited(
  archive: Archive,
  changes: Map<number, BytesRef>,
  { add, remove }: AskedEdits,
  find: (text: string) => readonly Entry[],
): Edited {
  const pieces = newPieces(archive, changes);
  if (add.length + remove.length + pieces.size === 0)
    return { changes, marks: undefined, archive, newNumbers: new Int32Array(0) };
  const removed = new Set(
    remove.map((text) => {
      const found = find(text);
      if (found.length === 1) return found[0]!.index;
      throw new UsageError(
        found.length === 0
          ? `the archive has no entry ${text}`
          : `${text} is the path of ${found.length} entries; choose one: ${found.map(({ index }) => `#${index}`).join(', ')}`,
      );
    }),
  );
  const both = [...changes.keys()].find((index) => removed.has(index));
  if (both !== undefined)
    throw new UsageError(`${archive.entries[both]!.path} is to be changed and taken out at once`);
  const made = editEntries(archive, { added: add.map(({ target }) => ({ path: target })), removed, pieces });
  const now = new Map([...changes].map(([index, bytes]) => [made.newNumbers[index]!, bytes]));
  for (const [i, { file }] of add.entries()) {
    const source = openFileSource(file);
    now.set(made.added[i]!, refOfSpan(source, 0, source.length));
  }
  return { changes: now, marks: made.marks, archive, newNumbers: made.newNumbers };
}
