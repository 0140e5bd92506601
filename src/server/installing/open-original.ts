import type { Archive } from '@/core/archive';
import type { ArchiveRow } from '@/db';
import { presentGame } from '../games/games';
import { keysWith, openFile } from '../opening/open-file';
import { keyBytes } from '../opening/opened';
import { scriptById } from '../opening/scripts';
import { sourceFiles } from './source-files';
import { UserError } from '@/platform/user-error';

/** An archive as it was before any installation, opened for this call alone. */
export async function openOriginal(
  gameId: number,
  row: ArchiveRow,
): Promise<{ archive: Archive; close: () => void }> {
  const script = row.script === null ? undefined : scriptById(row.script);
  if (row.state !== 'open' || !script)
    throw new UserError(409, `${row.path} is not open: ${row.reason}. ${row.nextStep}`);
  if (row.sort !== 'file')
    throw new UserError(
      409,
      `${row.path} is no archive in a file of its own, so its entries are not added to or taken out here.`,
    );
  const sourceOf = await sourceFiles(await presentGame(gameId));
  return openFile(sourceOf(row.path), row.path, script, keysWith(script, await keyBytes(row.keyId)));
}
