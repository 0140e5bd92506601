import type { FitState, Mend } from '@/core/fit';
import { ArchiveRow } from '@/db';
import { changeRow, replaceEntry } from '../mods';
import { notFound } from '../user-error';
import { addEntry } from './add-entry';

/** Applies a mend to a change and looks at the fit again. */
export async function mendChange(
  gameId: number,
  modId: number,
  changeId: number,
  mend: Mend,
): Promise<FitState> {
  const row = await changeRow(gameId, modId, changeId);
  const archive = await ArchiveRow.findOne({ where: { gameId, path: row.archivePath } });
  if (!archive) throw notFound(row.archivePath);
  const mends = [...new Set([...(row.mends as Mend[]), mend])];
  const given = { name: row.givenName, blob: row.givenBlob, size: row.givenSize };
  if (row.action !== 'add')
    return replaceEntry(gameId, modId, { archiveId: archive.id, index: row.entryIndex }, given, mends);
  const { path, likeIndex } = row;
  return addEntry(gameId, modId, { archiveId: archive.id, path, like: likeIndex ?? undefined }, given, mends);
}

/** Gives the other half of a sheet the same picture, at its own size. */
export async function shareChange(
  gameId: number,
  modId: number,
  changeId: number,
  with_: { archiveId: number; index: number },
): Promise<FitState> {
  const row = await changeRow(gameId, modId, changeId);
  const given = { name: row.givenName, blob: row.givenBlob, size: row.givenSize };
  return replaceEntry(gameId, modId, with_, given, [
    ...new Set<Mend>([...(row.mends as Mend[]), 'resize', 'convert codec']),
  ]);
}
