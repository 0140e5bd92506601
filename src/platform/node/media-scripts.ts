import fs from 'node:fs';
import type { EntryStore } from '@/core/archive';
import { collect, FormatError, memorySource, type ByteSource } from '@/core/bytes';
import { openSound, type WrappedSound } from '@/media/sound/core/audio';
import { openPicture, type Beside, type WrappedPicture } from '@/media/picture/core/texture';
import { resolveInside } from './inside';
import { nodePrimitives } from './primitives';
import { scriptsFor, type ShelvedScript } from './script-shelf';

/** Finds the script with a section for a medium that knows the bytes. */
export type MediaScripts = (source: ByteSource, section: 'picture' | 'sound') => ShelvedScript | undefined;

/** The same, out of a shelf. */
export const mediaScriptsOn =
  (shelf: readonly ShelvedScript[]): MediaScripts =>
  (source, section) =>
    scriptsFor(source, shelf).find(({ script }) => script[section]);

/** What a file may need of its neighbours is small; larger ones are no palette. */
const MOST_BESIDE_BYTES = 1 << 20;

const noted = new WeakMap<Uint8Array, Beside>();

/** Notes what lies beside the bytes of an entry, for whoever opens them as a picture later. */
export function withBeside(bytes: Uint8Array, beside: Beside): Uint8Array {
  noted.set(bytes, beside);
  return bytes;
}

const folderOf = (path: string): string => path.slice(0, path.lastIndexOf('/') + 1);

/** Paths that a script may mean by one that it says: beside the entry, and from the top. */
export const pathsMeant = (of: string, said: string): string[] => [...new Set([folderOf(of) + said, said])];

const folders = new WeakMap<EntryStore, string>();

/** Notes the folder that a store of loose files reads from: all of its files lie beside each other, whether the store has them or not. */
export function inFolder(store: EntryStore, folder: string): EntryStore {
  folders.set(store, folder);
  return store;
}

/** A file of a folder; undefined where there is none that is small enough, or the path leads out. */
function fileIn(folder: string, path: string): Uint8Array | undefined {
  try {
    const file = resolveInside(folder, path);
    const stat = fs.statSync(file, { throwIfNoEntry: false });
    return stat?.isFile() && stat.size <= MOST_BESIDE_BYTES
      ? new Uint8Array(fs.readFileSync(file))
      : undefined;
  } catch (error) {
    if (error instanceof FormatError) return undefined;
    throw error;
  }
}

const places = new WeakMap<EntryStore, ReadonlyMap<string, number>>();

/** The other entries of an archive, by their paths; a path that differs in case alone is taken where there is no better one. */
export function besideEntry(store: EntryStore, path: string): Beside {
  return (said) => {
    const folder = folders.get(store);
    if (folder !== undefined)
      return pathsMeant(path, said)
        .map((one) => fileIn(folder, one))
        .find((bytes) => bytes);
    let known = places.get(store);
    if (!known) {
      const all = new Map<string, number>();
      for (let i = store.entries.length - 1; i >= 0; i--) {
        const other = store.entries[i]!.path;
        if (!all.has(other.toLowerCase())) all.set(other.toLowerCase(), i);
        all.set(other, i);
      }
      places.set(store, (known = all));
    }
    for (const one of pathsMeant(path, said)) {
      const index = known.get(one) ?? known.get(one.toLowerCase());
      const entry = index === undefined ? undefined : store.entries[index];
      if (entry && entry.size <= MOST_BESIDE_BYTES) return collect(store.plain(entry));
    }
    return undefined;
  };
}

/** What opening these bytes as a picture asks for, to be sent along with them; undefined for nothing. */
export function neededBeside(
  bytes: Uint8Array,
  name: string,
  scripts: MediaScripts,
): Readonly<Record<string, Uint8Array>> | undefined {
  const beside = noted.get(bytes);
  const found = beside && scripts(memorySource(bytes, name), 'picture');
  if (found?.script.picture?.palette?.from.sort !== 'entry') return undefined;
  const needed: Record<string, Uint8Array> = {};
  try {
    openPicture(found.script, bytes, name, nodePrimitives, (path) => {
      const other = beside!(path);
      if (other) needed[path] = other;
      return other;
    });
  } catch {
    // Whoever opens it says what is wrong.
  }
  return needed;
}

/** A wrapped picture, or undefined where no script knows the bytes as one. */
export function wrappedPictureOf(
  bytes: Uint8Array,
  name: string,
  scripts: MediaScripts,
): WrappedPicture | undefined {
  const shelved = scripts(memorySource(bytes, name), 'picture');
  return shelved && openPicture(shelved.script, bytes, name, nodePrimitives, noted.get(bytes));
}

/** A wrapped sound, or undefined where no script knows the bytes as one. */
export function wrappedSoundOf(
  bytes: Uint8Array,
  name: string,
  scripts: MediaScripts,
): WrappedSound | undefined {
  const shelved = scripts(memorySource(bytes, name), 'sound');
  return shelved && openSound(shelved.script, bytes, name, nodePrimitives);
}
