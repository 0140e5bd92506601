import type { LineId } from '@/media/text/core/desk';
import { DeskNoteRow } from '@/db';
import { modRow } from '../mods/mods';
import { notify } from './live';

/** Keeps what somebody says of a line. */
export async function addComment(
  gameId: number,
  modId: number,
  { place, key, nth }: LineId,
  text: string,
  by: string,
): Promise<void> {
  await modRow(gameId, modId);
  await DeskNoteRow.create({ modId, place, key, nth, text, byWhom: by });
  notify(modId);
}
