import path from 'node:path';
import type { Archive } from '@/core/archive';
import { refOfSpan, type BytesRef } from '@/core/bytes';
import type { Mend } from '@/core/fit';
import { editEntries, newPieces, type EditedArchive } from '@/core/mod';
import type { Keys, Script } from '@/core/script';
import { ArchiveRow, type ChangeRow } from '@/db';
import { codecAsked } from '@/media/sound/node/recoded';
import { companionsOf } from '@/platform/node/companions';
import { openFileSource, type FileSource } from '@/platform/node/file-source';
import type { GameView } from '../games/games';
import { besides, keysWith, openFile, openWithin } from '../opening/open-file';
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
  const sourceOf = await sourceFiles(game);
  const links = await linksTo(row);
  const closers: (() => void)[] = [];
  const close = (): void => {
    for (const one of closers.splice(0).reverse()) one();
  };
  const open = (): Archive => {
    const [outermost, ...within] = links;
    const first = outermost!.row.path;
    const opened = openFile(
      sourceOf(first),
      first,
      outermost!.script,
      outermost!.keys,
      undefined,
      companionsOf(path.join(game.folder, first), { nameOf: besides(first), inPlaceOf: sourceOf }),
    );
    closers.push(opened.close);
    let { archive } = opened;
    for (const inner of within) {
      const found = openWithin(
        archive,
        entryFor(archive, inner.row),
        inner.row.path,
        inner.script,
        inner.keys,
      );
      closers.push(found.close);
      archive = found.archive;
    }
    return archive;
  };
  try {
    const archive = open();
    for (const change of changes) refuseLost(archive, archivePath, change);
    const given = changes.map((change): BytesRef | undefined => {
      if (isRemoved(change)) return undefined;
      const blob: FileSource = openFileSource(blobFile(change.preparedBlob!), change.givenName);
      closers.push(() => blob.close());
      return refOfSpan(blob, 0, blob.length);
    });
    const replaced = new Map(
      changes.flatMap((change, i): [number, BytesRef][] =>
        isAdded(change) || !given[i] ? [] : [[change.entryIndex, given[i]]],
      ),
    );
    const edited = editsOf(open, changes, { archive, pieces: newPieces(archive, replaced), patch });
    const told = changes.map((change) => toldOf(change, changes, edited));
    const refs = new Map<number, BytesRef>();
    for (const [i, bytes] of given.entries()) {
      const { now } = told[i]!;
      if (now !== undefined && bytes) refs.set(now, bytes);
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

interface Link {
  readonly row: ArchiveRow;
  readonly script: Script;
  readonly keys: Keys;
}

/** What it takes to open an archive, from the file of the game folder inwards. */
async function linksTo(row: ArchiveRow): Promise<Link[]> {
  const script = row.script === null ? undefined : scriptById(row.script);
  if (!script || row.state !== 'open')
    throw new UserError(409, `${row.path} is not open: ${row.reason}. ${row.nextStep}`);
  const outer = row.parentId === null ? null : await ArchiveRow.findByPk(row.parentId);
  const keys = keysWith(script, await keyBytes(row.keyId));
  return [...(outer ? await linksTo(outer) : []), { row, script, keys }];
}

/** The number of the entry that an inner archive is; the original may have other numbers than what is installed. */
export function entryFor({ entries }: Archive, { path: whole, parentEntry }: ArchiveRow): number | null {
  const own = whole.split('//').at(-1)!;
  if (parentEntry !== null && entries[parentEntry]?.path === own) return parentEntry;
  const found = entries.findIndex((entry) => entry.path === own);
  return found < 0 ? parentEntry : found;
}

const isAdded = ({ action }: ChangeRow): boolean => action === 'add';
const isRemoved = ({ action }: ChangeRow): boolean => action === 'remove';

interface Wanted {
  /** The archive as it was. */
  readonly archive: Archive;
  readonly pieces: ReturnType<typeof newPieces>;
  readonly patch: PatchOf | undefined;
}

function editsOf(
  open: () => Archive,
  changes: readonly ChangeRow[],
  { archive, pieces, patch }: Wanted,
): EditedArchive | undefined {
  const isEdited = changes.some((change) => isAdded(change) || isRemoved(change));
  const recoded = recodedBy(archive, changes);
  if (!patch && !isEdited && pieces.size + recoded.size === 0) return undefined;
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
    pieces,
    recoded,
    rank: patch?.rank,
  });
}

/** Entries that are kept in another codec from now on, as their changes ask. */
function recodedBy(archive: Archive, changes: readonly ChangeRow[]): Map<number, string> {
  const found = new Map<number, string>();
  for (const change of changes) {
    const entry = isAdded(change) || isRemoved(change) ? undefined : archive.entries[change.entryIndex];
    const word = entry && codecAsked(entry, change.mends as Mend[]);
    if (word !== undefined) found.set(change.entryIndex, word);
  }
  return found;
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
