import { alikeInName } from '@/core/catalogue';
import { UserError } from '@/platform/user-error';
import { gameCatalogue, recordOf, type EntryRecord } from '../entries/catalogue';

/** Entries that are called nearly as one of them is, itself among them, the finest first; none where it stands alone or nothing was counted yet. */
export async function alikeNames(gameId: number, archiveId: number, index: number): Promise<EntryRecord[]> {
  const game = await gameCatalogue(gameId);
  if (!game) throw new UserError(409, 'Scan the folder first.');
  const position = game.archives.findIndex(({ id }) => id === archiveId);
  const row = position < 0 ? -1 : game.catalogue.rowOf(position, index);
  return row < 0 ? [] : alikeInName(game.catalogue, row).map((one) => recordOf(game, one));
}
