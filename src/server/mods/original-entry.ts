import type { EntryStore, StoredEntry } from '@/core/archive';
import { ArchiveRow } from '@/db';
import { openedOriginal } from '../installing/open-original';
import type { OpenedEntry } from '../opening/opened';
import { UserError } from '@/platform/user-error';
import { changeSlot, isOfFolder, type ChangeSlot } from './change-slot';

/** What an entry of the folder was before any installation: that which a change of it is made from. */
export const originalEntry = async (opened: OpenedEntry): Promise<OpenedEntry> =>
  originalOfSlot(opened.gameId, await changeSlot(opened), opened.entry.path);

/** The entry of an original that a change is kept for; undefined where it is not in it any more. */
export const entryOfSlot = (
  { entries }: EntryStore,
  { archivePath, entryIndex }: ChangeSlot,
  path: string,
): StoredEntry | undefined =>
  isOfFolder(archivePath) ? Array.from(entries).find((one) => one?.path === path) : entries[entryIndex];

/** The original of what a change is kept for. `path` is that of a file of the folder, in its archive. */
export async function originalOfSlot(
  gameId: number,
  { archivePath, entryIndex }: ChangeSlot,
  path: string,
): Promise<OpenedEntry> {
  const row = await ArchiveRow.findOne({ where: { gameId, path: archivePath }, attributes: ['id'] });
  if (!row) throw new UserError(409, `${archivePath} is not in the folder any more. Scan it again.`);
  const original = await openedOriginal(gameId, row.id);
  const entry = entryOfSlot(original.archive, { archivePath, entryIndex }, path);
  if (!entry) throw new UserError(409, `${path} is not in ${archivePath} any more. Scan it again.`);
  return { ...original, entry };
}
