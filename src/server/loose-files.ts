import fs from 'node:fs';
import type { EntryStore, StoredEntry } from '@/core/archive';
import { refOfSpan, type ByteSource, type BytesRef } from '@/core/bytes';
import { openFileSource } from '@/platform/node/file-source';
import { resolveInside } from '@/platform/node/inside';
import type { GameCatalogue } from './catalogue';
import { UserError } from './user-error';

/** The files of a game folder that are in no archive, read like the entries of one. */
export function looseFiles(folder: string, { catalogue }: GameCatalogue, position: number): EntryStore {
  const entries: StoredEntry[] = [];
  for (let row = 0; row < catalogue.count; row++) {
    if (catalogue.columns.archives[row] !== position) continue;
    const { path, size, modified, number } = catalogue.at(row);
    entries[number] = {
      index: number,
      path,
      named: true,
      hash: undefined,
      offset: 0,
      storedSize: size,
      size,
      modified,
      problem: undefined,
    };
  }
  const plain = ({ path }: StoredEntry): BytesRef => {
    const file = resolveInside(folder, path);
    const stat = fs.statSync(file, { throwIfNoEntry: false });
    if (!stat?.isFile())
      throw new UserError(410, `${path} is no longer in the game folder. Scan the folder again.`);
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
  return { entries, steps: () => [], stored: plain, plain, discard: () => undefined };
}

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
