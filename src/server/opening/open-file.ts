import {
  entrySource,
  openArchive,
  type Archive,
  type Entry,
  type EntryStore,
  type Names,
} from '@/core/archive';
import type { Keys, Script } from '@/core/script';
import { companionsOf, type Companions } from '@/platform/node/companions';
import { openFileSource } from '@/platform/node/file-source';
import { nodePrimitives } from '@/platform/node/primitives';
import { UserError } from '@/platform/user-error';

/** The keys of a script when one key of the keyring is used for all of them. */
export const keysWith = (script: Script, bytes: Uint8Array | undefined): Keys =>
  new Map(bytes ? [...script.keys.keys()].map((name) => [name, bytes]) : []);

/** Opens an archive file by a script; the caller closes the source. */
export function openFile(
  file: string,
  name: string,
  script: Script,
  keys: Keys,
  names?: Names,
  companions: Companions = companionsOf(file, { nameOf: besides(name) }),
): { archive: Archive; close: () => void } {
  const source = openFileSource(file, name);
  const close = (): void => {
    source.close();
    companions.close();
  };
  try {
    const archive = openArchive(script, source, {
      primitives: nodePrimitives,
      keys,
      companion: companions.find,
      ...(names && { names }),
    });
    return {
      archive,
      close() {
        archive.discard();
        close();
      },
    };
  } catch (error) {
    close();
    throw error;
  }
}

/** What a file beside one of the game folder is called in the folder's terms. */
export const besides =
  (name: string) =>
  (relative: string): string =>
    name.slice(0, name.lastIndexOf('/') + 1) + relative;

/** Opens an archive that is an entry of another one, which stays open as long. */
export function openWithin(
  outer: EntryStore,
  parentEntry: number | null,
  path: string,
  script: Script,
  keys: Keys,
): { archive: Archive; close: () => void } {
  const entry = outer.entries[parentEntry ?? -1];
  if (!entry) throw new UserError(410, `${path} is no longer in its archive. Scan the folder again.`);
  const { source, discard } = entrySource(outer as Archive, entry as Entry);
  try {
    const archive = openArchive(script, source, { primitives: nodePrimitives, keys });
    return {
      archive,
      close() {
        archive.discard();
        discard();
      },
    };
  } catch (error) {
    discard();
    throw error;
  }
}
