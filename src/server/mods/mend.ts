import type { FitShown, Mend } from '@/core/fit';
import { ArchiveRow, type ChangeRow } from '@/db';
import { changeRow, replaceEntry } from './mods';
import { notFound, UserError } from '@/platform/user-error';
import { addEntry } from './add-entry';
import { openedEntry, type OpenedEntry } from '../opening/opened';
import { numberNow, renumberedArchives } from './change-slot';

/** Applies a mend to a change, or none, and looks at the fit of what was given again. */
export async function mendChange(
  gameId: number,
  modId: number,
  changeId: number,
  mend?: Mend,
): Promise<FitShown> {
  const row = await changeRow(gameId, modId, changeId);
  const archive = await ArchiveRow.findOne({ where: { gameId, path: row.archivePath } });
  if (!archive) throw notFound(row.archivePath);
  // Of ways to keep it the last one counts.
  const mends = [...(row.mends as Mend[]).filter((one) => one !== mend), ...(mend ? [mend] : [])];
  const given = { name: row.givenName, blob: row.givenBlob, size: row.givenSize };
  if (row.action !== 'add') return replaceEntry(await slotOf(gameId, archive.id, row), modId, given, mends);
  const { path, likeIndex } = row;
  return addEntry(gameId, modId, { archiveId: archive.id, path, like: likeIndex ?? undefined }, given, mends);
}

/** The entry of a change as it is in the folder now. */
async function slotOf(gameId: number, archiveId: number, row: ChangeRow): Promise<OpenedEntry> {
  const index = await numberNow(gameId, row, await renumberedArchives(gameId));
  if (index !== undefined) return openedEntry(gameId, archiveId, index);
  throw new UserError(
    409,
    `${row.path} is not in ${row.archivePath} while this is installed. Restore the originals first.`,
  );
}

/** Gives the other half of a sheet the same picture, at its own size. */
export async function shareChange(modId: number, changeId: number, half: OpenedEntry): Promise<FitShown> {
  const row = await changeRow(half.gameId, modId, changeId);
  const given = { name: row.givenName, blob: row.givenBlob, size: row.givenSize };
  return replaceEntry(half, modId, given, [
    ...new Set<Mend>([...(row.mends as Mend[]), 'resize', 'convert codec']),
  ]);
}
