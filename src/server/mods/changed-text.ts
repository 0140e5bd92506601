import { decodeAnyText } from '@/media/text/core/encoding';
import { changeRow } from './mods';
import { MOST_TEXT_BYTES } from '@/media/text/core/encoding';
import { readBlob } from '../storage/storage';
import { UserError } from '@/platform/user-error';

/** The text of a change as it will be in the archive, or as it was given while it does not fit yet. */
export async function changedText(
  gameId: number,
  modId: number,
  changeId: number,
): Promise<{ text: string; whole: boolean }> {
  const row = await changeRow(gameId, modId, changeId);
  const bytes = readBlob(row.preparedBlob ?? row.givenBlob);
  const decoded = decodeAnyText(bytes);
  if (!decoded)
    throw new UserError(422, `${row.givenName} is no text. Look at its bytes, or put another file in.`);
  const whole = bytes.length <= MOST_TEXT_BYTES;
  return { text: whole ? decoded.text : decoded.text.slice(0, MOST_TEXT_BYTES), whole };
}
