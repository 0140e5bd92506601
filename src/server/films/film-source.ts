import { createHash } from 'node:crypto';
import type { Archive, StoredEntry } from '@/core/archive';
import { refOfSpan, windowOf, type BytesRef } from '@/core/bytes';
import { ChangeRow } from '@/db';
import { openFileSource } from '@/platform/node/file-source';
import { filmTracks, isMarks, isPictures, isSound, type FilmTrack } from '@/media/film/core';
import { demuxerOf } from '@/media/film/node/demuxers';
import { numberOfChange } from '../mods/change-slot';
import { modRow } from '../mods/mods';
import { originalEntry } from '../mods/original-entry';
import { openedOriginal } from '../installing/open-original';
import { blobFile } from '../storage/storage';
import { openedArchive, openedEntry, stampOfEntry, type OpenedArchive } from '../opening/opened';
import { UserError } from '@/platform/user-error';

/** What a film is asked for by: an archive that is one, or an entry of one. */
export interface FilmKey {
  readonly archiveId: number;
  readonly index: number | undefined;
  /** The mod as which it is meant, built on the originals; as the folder has it where none is said. */
  readonly mod?: number | undefined;
  /** Whether it is meant as it was before any installation. */
  readonly original?: boolean | undefined;
}

/** A stream of bytes that ffmpeg reads. */
export interface FilmInput {
  readonly ref: BytesRef;
  readonly demuxer: string;
  readonly path: string;
}

/** A film of a game with all that belongs to it, while its archive is open. */
export interface FilmSource {
  readonly gameId: number;
  readonly archiveId: number;
  /** Set where it is one entry, in a container of its own. */
  readonly index: number | undefined;
  readonly title: string;
  /** Changes when any of its bytes may have. */
  readonly stamp: string;
  /** The first has its pictures, where it has any. */
  readonly inputs: readonly FilmInput[];
  readonly hasPicture: boolean;
  /** Of a film that is an archive: its streams of sound by their languages, each an input. */
  readonly languages: readonly string[] | undefined;
  readonly marks: FilmTrack | undefined;
  readonly markText?: BytesRef | undefined;
  readonly tracks: readonly FilmTrack[];
  readonly opened: OpenedArchive;
  /** The mod as which it is meant. */
  readonly mod: number | undefined;
  /** Lets go of what a mod has in the place of its streams. */
  close(): void;
}

const FIRST_BYTES = 1024;

/** Opens what is asked for as a film. Throws UserError where it is none. */
export async function filmSource(gameId: number, key: FilmKey): Promise<FilmSource> {
  const { archiveId, index, mod } = key;
  const isOriginal = key.original === true || mod !== undefined;
  const opened = await (isOriginal ? openedOriginal : openedArchive)(gameId, archiveId);
  const tracks = 'context' in opened.archive ? filmTracks(opened.archive as Archive) : [];
  if (tracks.length > 0)
    return withChanges(opened, mod, (changed) => ({ ...ofTracks(opened, tracks, changed), mod }));
  if (index === undefined)
    throw new UserError(422, `${opened.row.path} is no film: its script says nothing of streams in it.`);
  const inFolder = await openedEntry(gameId, archiveId, index);
  const own = isOriginal ? await originalEntry(inFolder) : inFolder;
  return withChanges(own, mod, (changed) => ({
    ...{ gameId, archiveId, index, opened: own, mod, tracks: [], marks: undefined, languages: undefined },
    ...{ title: own.entry.path, stamp: stampOf(own, [own.entry], changed), hasPicture: true },
    ...{ inputs: [inputOf(own, own.entry, changed)], close: changed.close },
  }));
}

async function withChanges(
  opened: OpenedArchive,
  mod: number | undefined,
  sourceOf: (changed: ChangedStreams) => FilmSource,
): Promise<FilmSource> {
  const changed = await changedIn(opened, mod);
  try {
    return sourceOf(changed);
  } catch (error) {
    changed.close();
    throw error;
  }
}

/** What a mod has in the place of entries of an archive, by their numbers. */
interface ChangedStreams {
  readonly refs: ReadonlyMap<number, BytesRef>;
  readonly blobs: ReadonlyMap<number, string>;
  close(): void;
}

async function changedIn({ row, gameId }: OpenedArchive, mod: number | undefined): Promise<ChangedStreams> {
  if (mod === undefined) return { refs: new Map(), blobs: new Map(), close: () => undefined };
  await modRow(gameId, mod);
  const rows = await ChangeRow.findAll({ where: { modId: mod, archivePath: row.path, action: 'replace' } });
  const ready = rows.filter(({ preparedBlob }) => preparedBlob !== null);
  const sources = ready.map(({ preparedBlob, givenName }) =>
    openFileSource(blobFile(preparedBlob!), givenName),
  );
  return {
    refs: new Map(
      ready.map(({ entryIndex }, i) => [entryIndex, refOfSpan(sources[i]!, 0, sources[i]!.length)]),
    ),
    blobs: new Map(ready.map(({ entryIndex, preparedBlob }) => [entryIndex, preparedBlob!])),
    close: () => {
      for (const source of sources) source.close();
    },
  };
}

function inputOf(
  { archive, row }: OpenedArchive,
  entry: StoredEntry,
  { refs }: ChangedStreams,
  said?: string,
): FilmInput {
  // What is only watched need not hold in every check, and is found faster where it lies as it is.
  const stored = (): BytesRef =>
    archive.steps(entry).length === 0 ? archive.stored(entry) : archive.plain(entry);
  const ref = refs.get(numberOfChange(row.path, entry)) ?? stored();
  const demuxer = said ?? demuxerOf(windowOf(ref, 0, FIRST_BYTES));
  if (demuxer === undefined)
    throw new UserError(422, `${entry.path} of ${row.path} begins like no film or sound that is known here.`);
  return { ref, demuxer, path: entry.path };
}

/** Of the streams that are watched; marks and texts may change while one does. */
const stampOf = (opened: OpenedArchive, entries: readonly StoredEntry[], { blobs }: ChangedStreams): string =>
  createHash('sha1')
    .update(
      JSON.stringify([
        stampOfEntry({ ...opened, entry: entries[0]! }),
        entries.map((entry) => [entry.index, blobs.get(numberOfChange(opened.row.path, entry))]),
      ]),
    )
    .digest('hex');

function ofTracks(
  opened: OpenedArchive,
  tracks: readonly FilmTrack[],
  changed: ChangedStreams,
): Omit<FilmSource, 'mod'> {
  const { row, gameId } = opened;
  const picture = tracks.find(isPictures);
  const sounds = tracks.filter(
    (track) => isSound(track) && (track.entry.storedSize > 0 || changed.refs.has(track.entry.index)),
  );
  if (!picture && sounds.length === 0)
    throw new UserError(422, `${row.path} has neither pictures nor sound.`);
  const marks = tracks.find(isMarks);
  const watched = [...(picture ? [picture] : []), ...sounds];
  const entries = watched.map(({ entry }) => entry);
  return {
    ...{ gameId, archiveId: row.id, index: undefined, opened, tracks, title: row.path, marks },
    stamp: stampOf(opened, entries, changed),
    inputs: watched.map(({ entry, demuxer }) => inputOf(opened, entry, changed, demuxer)),
    hasPicture: picture !== undefined,
    languages: sounds.map(({ language }) => language),
    markText: marks && (changed.refs.get(marks.entry.index) ?? opened.archive.plain(marks.entry)),
    close: changed.close,
  };
}
