import path from 'node:path';
import type { Archive } from '@/core/archive';
import { refOfSpan, type BytesRef } from '@/core/bytes';
import { editEntries, type EditedArchive } from '@/core/mod';
import { ArchiveRow, type ChangeRow } from '@/db';
import { companionsOf } from '@/platform/node/companions';
import { openFileSource, type FileSource } from '@/platform/node/file-source';
import type { GameView } from '../games/games';
import { besides, keysWith, openFile } from '../opening/open-file';
import { keyBytes } from '../opening/opened';
import { scriptById } from '../opening/scripts';
import { sourceFiles } from '../installing/source-files';
import { blobFile } from '../storage/storage';
import { notFound, UserError } from '@/platform/user-error';

/** One change as a report tells of it: the number that its entry had, and the one that it has in what is planned. */
export interface ToldChange {
  readonly path: string;
  readonly was: number | undefined;
  readonly now: number | undefined;
}

/** An archive of a game with the changes that are to go into it. */
export interface Work {
  readonly row: ArchiveRow;
  /** Where a file of the game lies as it was before any installation. */
  readonly sourceOf: (path: string) => string;
  /** The archive as it was. */
  readonly archive: Archive;
  /** The archive with its entries as they are to be; the same where none is added or taken out. */
  readonly planned: Archive;
  readonly edited: EditedArchive | undefined;
  /** New plain bytes, by entry number as planned. */
  readonly changes: Map<number, BytesRef>;
  readonly told: readonly ToldChange[];
  readonly close: () => void;
}

/** Makes of the changes an archive of nothing else, which is loaded by this number. */
export interface PatchOf {
  readonly rank: number;
}

/** Opens the original of an archive and the changes; `close` lets go of them. */
export async function prepareWork(
  game: GameView,
  changes: readonly ChangeRow[],
  archivePath: string,
  patch?: PatchOf,
): Promise<Work> {
  const row = await ArchiveRow.findOne({ where: { gameId: game.id, path: archivePath } });
  if (!row) throw notFound(archivePath);
  const script = row.script === null ? undefined : scriptById(row.script);
  if (!script || row.state !== 'open')
    throw new UserError(409, `${archivePath} is not open: ${row.reason}. ${row.nextStep}`);
  const sourceOf = await sourceFiles(game);
  const key = await keyBytes(row.keyId);
  const closers: (() => void)[] = [];
  const close = (): void => {
    for (const one of closers.splice(0)) one();
  };
  const open = (): Archive => {
    const { archive, close: closeArchive } = openFile(
      sourceOf(archivePath),
      archivePath,
      script,
      keysWith(script, key),
      undefined,
      companionsOf(path.join(game.folder, archivePath), {
        nameOf: besides(archivePath),
        inPlaceOf: sourceOf,
      }),
    );
    closers.push(closeArchive);
    return archive;
  };
  try {
    const archive = open();
    for (const change of changes) refuseLost(archive, archivePath, change);
    const edited = editsOf(open, archive, changes, patch);
    const told = changes.map((change) => toldOf(change, changes, edited));
    const refs = new Map<number, BytesRef>();
    for (const [i, change] of changes.entries()) {
      const { now } = told[i]!;
      if (now === undefined) continue;
      const blob: FileSource = openFileSource(blobFile(change.preparedBlob!), change.givenName);
      closers.push(() => blob.close());
      refs.set(now, refOfSpan(blob, 0, blob.length));
    }
    return {
      row,
      sourceOf,
      archive,
      planned: edited?.archive ?? archive,
      edited,
      changes: refs,
      told,
      close,
    };
  } catch (error) {
    close();
    throw error;
  }
}

const isAdded = ({ action }: ChangeRow): boolean => action === 'add';
const isRemoved = ({ action }: ChangeRow): boolean => action === 'remove';

function editsOf(
  open: () => Archive,
  archive: Archive,
  changes: readonly ChangeRow[],
  patch: PatchOf | undefined,
): EditedArchive | undefined {
  if (!patch && !changes.some((change) => isAdded(change) || isRemoved(change))) return undefined;
  const removed = new Set(changes.filter(isRemoved).map(({ entryIndex }) => entryIndex));
  if (patch) {
    const kept = new Set(changes.map(({ entryIndex }) => entryIndex));
    for (const { index } of archive.entries) if (!kept.has(index)) removed.add(index);
  }
  return editEntries(open(), {
    added: changes
      .filter(isAdded)
      .map(({ path: added, likeIndex }) => ({ path: added, like: likeIndex ?? undefined })),
    removed,
    rank: patch?.rank,
  });
}

function toldOf(
  change: ChangeRow,
  changes: readonly ChangeRow[],
  edited: EditedArchive | undefined,
): ToldChange {
  const { entryIndex: index, path: told } = change;
  if (isRemoved(change)) return { path: told, was: index, now: undefined };
  if (isAdded(change))
    return { path: told, was: undefined, now: edited!.added[changes.filter(isAdded).indexOf(change)]! };
  return { path: told, was: index, now: edited ? edited.newNumbers[index]! : index };
}

/** A change of an entry that is no longer there. What is taken out must still be what it was called. */
function refuseLost(archive: Archive, archivePath: string, change: ChangeRow): void {
  if (isAdded(change)) return;
  const entry = archive.entries[change.entryIndex];
  const isOther = isRemoved(change) && entry?.named && entry.path.toLowerCase() !== change.path.toLowerCase();
  if (entry && !isOther) return;
  throw new UserError(
    409,
    `${archivePath} no longer has ${change.path} as its entry ${change.entryIndex}. Take the change out and make it again.`,
  );
}
