import { createHash } from 'node:crypto';
import type { StoredEntry } from '@/core/archive';
import { ArchiveRow, BuildRow, type ChangeRow } from '@/db';
import type { BuildReport } from '../building/build-files';
import { findEntry, findStack } from '../entries/catalogue';
import { activeRow, broughtFiles } from '../installing/installations';
import { openOriginal } from '../installing/open-original';
import { openedEntry, type OpenedEntry } from '../opening/opened';
import { UserError } from '@/platform/user-error';

/** Where a change is kept: entries have the numbers of the original, whatever is installed. */
export interface ChangeSlot {
  readonly archivePath: string;
  readonly entryIndex: number;
}

/** What stands for all files of the folder that are in no archive. */
const FOLDER = '.';
export const isOfFolder = (archivePath: string): boolean => archivePath === FOLDER;

/** Files of a folder have no numbers that last; what a change of one is kept by follows from its path. */
const numberOfFile = (path: string): number =>
  createHash('sha1').update(path).digest().readUInt32BE(0) & 0x7fffffff;

/** The number that changes of an entry are kept by, where nothing that is installed has renumbered its archive. */
export const numberOfChange = (
  archivePath: string,
  { index, path }: Pick<StoredEntry, 'index' | 'path'>,
): number => (isOfFolder(archivePath) ? numberOfFile(path) : index);

/** Archives in which what is installed has added entries or taken some out, so that the others have other numbers than in the original. */
export async function renumberedArchives(gameId: number): Promise<ReadonlySet<string>> {
  const active = await activeRow(gameId);
  const build = active?.buildId ? await BuildRow.findByPk(active.buildId) : null;
  const archives = (build?.report as BuildReport | undefined)?.archives ?? [];
  return new Set(
    archives
      .filter(({ changes }) => changes.some((one) => one.storedBefore === null || one.storedAfter === null))
      .map(({ archive }) => archive),
  );
}

/** Tells entries that are there only because of what is installed: files that it brought, and entries that it added to archives. */
export async function onlyInstalled(
  gameId: number,
): Promise<(entry: { readonly archive: string; readonly path: string }) => boolean> {
  const brought = await broughtFiles(gameId);
  const active = await activeRow(gameId);
  const build = active?.buildId ? await BuildRow.findByPk(active.buildId) : null;
  const added = new Set(
    ((build?.report as BuildReport | undefined)?.archives ?? []).flatMap(({ archive, changes }) =>
      changes.filter(({ storedBefore }) => storedBefore === null).map(({ path }) => `${archive}\0${path}`),
    ),
  );
  return ({ archive, path }) =>
    added.has(`${archive}\0${path}`) || brought.has(isOfFolder(archive) ? path : archive);
}

/** The slot of an entry as it is in the folder now. */
export async function changeSlot(opened: OpenedEntry): Promise<ChangeSlot> {
  const { gameId, row, archive, entry } = opened;
  const archivePath = row.path;
  const brought = await broughtFiles(gameId);
  if (isOfFolder(archivePath)) {
    if (brought.has(entry.path))
      throw new UserError(
        409,
        `${entry.path} is only there because of what is installed. Change what the mod adds, or restore the originals first.`,
      );
    return { archivePath, entryIndex: numberOfChange(archivePath, entry) };
  }
  if (brought.has(archivePath)) return slotBehind(opened, brought);
  if (!(await renumberedArchives(gameId)).has(archivePath)) return { archivePath, entryIndex: entry.index };
  const original = await openOriginal(gameId, row);
  try {
    // Of namesakes the first is the first, and so on.
    const isIt = isSame(entry);
    let before = 0;
    for (let i = 0; i < entry.index; i++) if (isIt(archive.entries[i]!)) before++;
    const found = original.archive.entries.filter(isIt)[before];
    if (found) return { archivePath, entryIndex: found.index };
  } finally {
    original.close();
  }
  const path = (await findEntry(gameId, row.id, entry.index))?.path ?? entry.path;
  throw new UserError(
    409,
    `${path} was added to ${archivePath} by what is installed. Change what the mod adds, or restore the originals first.`,
  );
}

/** Of an entry in an archive that what is installed brought: the one that it lies over, which is what is built from. */
async function slotBehind(
  { gameId, row, entry }: OpenedEntry,
  brought: ReadonlySet<string>,
): Promise<ChangeSlot> {
  const path = (await findEntry(gameId, row.id, entry.index))?.path;
  const stack = path === undefined ? [] : await findStack(gameId, path);
  const behind = stack.find(({ archive }) => !brought.has(archive));
  if (behind) return changeSlot(await openedEntry(gameId, behind.archiveId, behind.index));
  throw new UserError(
    409,
    `${path ?? 'This entry'} is only in ${row.path}, which is there because of what is installed. Change what the mod adds, or restore the originals first.`,
  );
}

const isSame =
  ({ hash, path }: StoredEntry) =>
  (other: StoredEntry): boolean =>
    hash === undefined ? other.path === path : other.hash === hash;

/** The number that the entry of a change has in the folder now; undefined where what is installed has taken it out. */
export async function numberNow(
  gameId: number,
  { archivePath, entryIndex, path }: Pick<ChangeRow, 'archivePath' | 'entryIndex' | 'path'>,
  renumbered: ReadonlySet<string>,
): Promise<number | undefined> {
  if (!isOfFolder(archivePath) && !renumbered.has(archivePath)) return entryIndex;
  const archive = await ArchiveRow.findOne({ where: { gameId, path: archivePath }, attributes: ['id'] });
  return (await findStack(gameId, path)).find(({ archiveId }) => archiveId === archive?.id)?.index;
}
