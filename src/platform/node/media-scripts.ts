import fs from 'node:fs';
import type { Archive, Entry, EntryStore, StoredEntry } from '@/core/archive';
import { collect, FormatError, memorySource, type ByteSource, type BytesRef } from '@/core/bytes';
import type { Kind } from '@/core/kinds';
import { filmTracks, isPictures, isSound } from '@/media/film/core/film-tracks';
import {
  describedSound,
  openAdpcmWave,
  openSound,
  soundSpecOf,
  type SoundSpec,
  type WrappedSound,
} from '@/media/sound/core/audio';
import {
  describedPicture,
  openPicture,
  specOf,
  type Beside,
  type FrameSpec,
  type Texture,
} from '@/media/picture/core/texture';
import { decodeCoded } from './coded-sound';
import { resolveInside } from './inside';
import { nodePrimitives } from './primitives';
import { scriptsFor, type ShelvedScript } from './script-shelf';

/** Finds the script with a section for a medium that knows the bytes. */
export type MediaScripts = (
  source: ByteSource,
  section: 'picture' | 'sound' | 'model' | 'lines' | 'font' | 'table',
) => ShelvedScript | undefined;

/** The same, out of a shelf. */
export const mediaScriptsOn =
  (shelf: readonly ShelvedScript[]): MediaScripts =>
  (source, section) =>
    scriptsFor(source, shelf).find(({ script }) => script[section]);

/** What a file may need of its neighbours is small; larger ones are no palette. */
const MOST_BESIDE_BYTES = 1 << 20;

/** What an archive says of one of its entries, worked out. */
export interface Described {
  readonly picture?: FrameSpec;
  readonly sound?: SoundSpec;
  /** Of the pictures of a film: the sounds that lie beside them. */
  readonly film?: {
    /** What reads it, where its script says that. */
    readonly demuxer: string | undefined;
    readonly sounds: readonly {
      readonly ref: BytesRef;
      readonly path: string;
      readonly language: string;
      readonly demuxer: string | undefined;
    }[];
  };
}

/** What is known of the bytes of an entry besides the bytes. */
interface Noted {
  readonly beside: Beside;
  readonly described: (() => Described | undefined) | undefined;
  /** Which way to read them was said, by the title of the script that describes them. */
  readonly wayOf: ((script: string) => number | undefined) | undefined;
}

/** Which of several ways to read a sound somebody said: of paths, and of all that a script of a title describes. Numbers from 0. */
export interface SaidWays {
  readonly paths: Readonly<Record<string, number>>;
  readonly scripts: Readonly<Record<string, number>>;
}
const said = new WeakMap<EntryStore, SaidWays>();
const saidBeside = new WeakMap<Beside, (script: string) => number | undefined>();

/** Notes of an archive that is open what was said of its sounds. */
export function sayWays<T extends EntryStore>(store: T, ways: SaidWays): T {
  said.set(store, ways);
  return store;
}

const wayIn = (store: EntryStore, path: string, script: string): number | undefined => {
  const ways = said.get(store);
  return ways?.paths[path] ?? ways?.scripts[script];
};
const noted = new WeakMap<Uint8Array, Noted>();

/** Notes what lies beside the bytes of an entry, and what its archive says of it, for whoever opens them as a medium later. */
export function withBeside(
  bytes: Uint8Array,
  beside: Beside,
  described?: () => Described | undefined,
): Uint8Array {
  noted.set(bytes, { beside, described, wayOf: saidBeside.get(beside) });
  return bytes;
}

/** What lies beside some bytes under a path, where that was noted. */
export const bytesBeside = (bytes: Uint8Array, path: string): Uint8Array | undefined =>
  noted.get(bytes)?.beside(path);

/** Has bytes that are described by a script be read in one of its ways, whatever they sound like. */
export function readInWay(bytes: Uint8Array, way: number | undefined): Uint8Array {
  const { beside = () => undefined, described } = noted.get(bytes) ?? {};
  if (way !== undefined) noted.set(bytes, { beside, described, wayOf: () => way });
  return bytes;
}

/** Notes of some bytes what was noted of others in whose place they come. */
export function likeBytes(bytes: Uint8Array, others: Uint8Array): Uint8Array {
  const note = noted.get(others);
  if (note) noted.set(bytes, note);
  return bytes;
}

/** The kind that the archive of an entry says it has, where it describes it. */
export const describedKind = (entry: StoredEntry): Kind | undefined => (entry as Partial<Entry>).group?.kind;

/** What the archive of an entry says of its bytes; undefined where it says nothing. */
export function describedIn(
  store: EntryStore,
  stored: StoredEntry,
): (() => Described | undefined) | undefined {
  const [archive, entry] = [store as Archive, stored as Entry];
  if ((entry as Partial<Entry>).group?.film) return () => ({ film: filmOf(archive, entry) });
  if (!describedKind(stored)) return undefined;
  const { picture, sound } = entry.group;
  return () => ({
    ...(picture && {
      picture: specOf(picture, archive, entry, entry.path, besideEntry(archive, entry.path)),
    }),
    ...(sound && {
      sound: soundSpecOf(sound, archive, entry, entry.path, wayIn(archive, entry.path, archive.script.title)),
    }),
  });
}

/** The sounds that belong to the pictures of a film; what is no picture has none. */
function filmOf(archive: Archive, entry: Entry): Described['film'] {
  const tracks = filmTracks(archive);
  const own = tracks.find((track) => track.entry.index === entry.index);
  const isPicture = own !== undefined && isPictures(own);
  return {
    demuxer: own?.demuxer,
    sounds: tracks.flatMap((track) =>
      isPicture && isSound(track) && track.entry.storedSize > 0
        ? [
            {
              ref: archive.plain(track.entry),
              path: track.entry.path,
              language: track.language,
              demuxer: track.demuxer,
            },
          ]
        : [],
    ),
  };
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
  const beside = othersBeside(store, path);
  if (said.has(store)) saidBeside.set(beside, (script) => wayIn(store, path, script));
  return beside;
}

function othersBeside(store: EntryStore, path: string): Beside {
  return (wanted) => {
    const folder = folders.get(store);
    if (folder !== undefined)
      return pathsMeant(path, wanted)
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
    for (const one of pathsMeant(path, wanted)) {
      const index = known.get(one) ?? known.get(one.toLowerCase());
      const entry = index === undefined ? undefined : store.entries[index];
      if (entry && entry.size <= MOST_BESIDE_BYTES) return collect(store.plain(entry));
    }
    return undefined;
  };
}

/** What is sent along with bytes that are opened elsewhere. */
export interface SentAlong {
  readonly beside?: Readonly<Record<string, Uint8Array>>;
  readonly described?: Described | undefined;
  readonly way?: number | undefined;
}

/** What opening these bytes asks for, to be sent along with them; undefined for nothing. Throws FormatError where the archive says what cannot be. */
export function sentAlong(bytes: Uint8Array, name: string, scripts: MediaScripts): SentAlong | undefined {
  const note = noted.get(bytes);
  const described = note?.described?.();
  if (described) return { described };
  const way = note?.wayOf?.(scripts(memorySource(bytes, name), 'sound')?.script.title ?? '');
  if (way !== undefined) return { way };
  const found = note && scripts(memorySource(bytes, name), 'picture');
  if (found?.script.picture?.palette?.from.sort !== 'entry') return undefined;
  const beside: Record<string, Uint8Array> = {};
  try {
    openPicture(found.script, bytes, name, nodePrimitives, (path) => {
      const other = note!.beside(path);
      if (other) beside[path] = other;
      return other;
    });
  } catch {
    // Whoever opens it says what is wrong.
  }
  return { beside };
}

/** Notes what came along with bytes. */
export function withSent(bytes: Uint8Array, { beside = {}, described, way }: SentAlong): Uint8Array {
  return readInWay(
    withBeside(bytes, (path) => beside[path], described && (() => described)),
    way,
  );
}

/** A wrapped picture, or undefined where no script knows the bytes as one. */
export function wrappedPictureOf(
  bytes: Uint8Array,
  name: string,
  scripts: MediaScripts,
): Texture | undefined {
  const note = noted.get(bytes);
  const spec = note?.described?.()?.picture;
  if (spec) return describedPicture(spec, bytes);
  const shelved = scripts(memorySource(bytes, name), 'picture');
  return shelved && openPicture(shelved.script, bytes, name, nodePrimitives, note?.beside);
}

/** A wrapped sound, or undefined where no script knows the bytes as one. */
export function wrappedSoundOf(
  bytes: Uint8Array,
  name: string,
  scripts: MediaScripts,
): WrappedSound | undefined {
  const note = noted.get(bytes);
  const spec = note?.described?.()?.sound;
  if (spec) return describedSound(spec, bytes, decodeCoded);
  const script = scripts(memorySource(bytes, name), 'sound')?.script;
  // Wave files in codes are wrapped samples too.
  return script
    ? openSound(script, bytes, name, nodePrimitives, {
        ...{ said: note?.wayOf?.(script.title), decode: decodeCoded },
      })
    : openAdpcmWave(bytes);
}
