import fs from 'node:fs';
import type { EntryStore, StoredEntry } from '@/core/archive';
import { FormatError, refOfSpan, type ByteSource, type BytesRef } from '@/core/bytes';
import { openFileSource } from './file-source';
import { resolveInside } from './inside';
import { inFolder } from './media-scripts';

/** Files below a folder, read like the entries of an archive. `entries` are by their index; each path is one below the folder. */
export function looseStore(
  folder: string,
  entries: ArrayLike<StoredEntry>,
  fileOf = (path: string): string => resolveInside(folder, path),
): EntryStore {
  const plain = ({ path }: StoredEntry): BytesRef => {
    const file = fileOf(path);
    const stat = fs.statSync(file, { throwIfNoEntry: false });
    if (!stat?.isFile())
      throw new FormatError('changed-meanwhile', {
        file: path,
        why: 'it is no longer in the game folder',
        remedy: 'Scan the folder again',
      });
    return {
      ...refOfSpan(reopened(file, path, stat.size), 0, stat.size),
      *chunks() {
        const source = openFileSource(file, path);
        try {
          yield* refOfSpan(source, 0, Math.min(stat.size, source.length)).chunks();
        } finally {
          source.close();
        }
      },
    };
  };
  return inFolder({ entries, steps: () => [], stored: plain, plain, discard: () => undefined }, folder);
}

/** What is known of a file without looking at it again. */
export const looseEntry = (
  index: number,
  { path, size, modified }: { path: string; size: number; modified: number | undefined },
): StoredEntry => ({
  ...{ index, path, size, modified, storedSize: size },
  ...{ named: true, hash: undefined, offset: 0, problem: undefined },
});

/** A file that is opened for each read, so that no number of files looked at stays open. */
function reopened(file: string, name: string, length: number): ByteSource {
  return {
    name,
    length,
    read(offset, count) {
      const source = openFileSource(file, name);
      try {
        return source.read(offset, count).slice();
      } finally {
        source.close();
      }
    },
  };
}
