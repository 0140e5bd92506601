import type { EntryStore, StoredEntry } from '@/core/archive';
import { looseEntry, looseStore } from '@/platform/node/loose-store';
import type { GameCatalogue } from '../entries/catalogue';

/** The files of a game folder that are in no archive, read like the entries of one. `fileOf` says where one lies that is to be read from elsewhere. */
export function looseFiles(
  folder: string,
  { catalogue }: GameCatalogue,
  position: number,
  fileOf?: (path: string) => string,
): EntryStore {
  const entries: StoredEntry[] = [];
  for (let row = 0; row < catalogue.count; row++) {
    if (catalogue.columns.archives[row] !== position) continue;
    const at = catalogue.at(row);
    entries[at.number] = looseEntry(at.number, at);
  }
  return looseStore(folder, entries, fileOf);
}
