import type { StripContent } from '@/media/sound/core/board';
import { joinSounds, type JoinPart } from '@/media/sound/node/joins';
import { hasLookThread, lookBeside } from '../looking/look-threads';
import { tracksBeside } from '../looking/preview';
import { giveSound, soundOf } from '../mods/edit-sound';
import { openedEntry, type OpenedEntry } from '../opening/opened';
import type { FitShown } from '@/core/fit';
import { findBoard, type BoardView } from './boards';
import { UserError } from '@/platform/user-error';

/** The clips of a strip together have at most so many bytes as they are stored. */
const MOST_BYTES = 256 << 20;

async function partsOf({ title, content, places, sort }: BoardView): Promise<JoinPart[]> {
  if (sort !== 'strip') throw new UserError(400, `${title} is no strip.`);
  const { clips } = content as StripContent;
  if (clips.length === 0)
    throw new UserError(409, `${title} has no clips yet. Add some from the inspector of a sound.`);
  const parts: JoinPart[] = [];
  let total = 0;
  for (const [i, { game, from, to, gap, gain, fadeIn, fadeOut }] of clips.entries()) {
    const place = places[i]!;
    if (!place.entry)
      throw new UserError(409, `Clip ${i + 1} is not there: ${place.why}. Take it out, or scan again.`);
    const { bytes, name } = soundOf(await openedEntry(game, place.entry.archiveId, place.entry.index));
    total += bytes.length;
    if (total > MOST_BYTES)
      throw new UserError(
        422,
        `The clips have more than ${MOST_BYTES} bytes together. Make two strips of them.`,
      );
    parts.push({ bytes, name, from, to, gap, gain, fadeIn, fadeOut });
  }
  return parts;
}

/** The work of joining, beside whoever serves others where there is a thread for it. */
export const joinHere = (parts: readonly JoinPart[]): Promise<Uint8Array> => joinSounds(parts, tracksBeside);

/** A strip as one sound: a wave file of floats. */
export async function joinedStrip(id: number): Promise<{ title: string; bytes: Uint8Array }> {
  const board = await findBoard(id);
  const parts = await partsOf(board);
  const bytes = hasLookThread() ? await lookBeside('joined', { parts }) : await joinHere(parts);
  return { title: board.title, bytes };
}

/** Puts a strip in the place of an entry, in that one's own form. */
export async function stripOnto(opened: OpenedEntry, modId: number, id: number): Promise<FitShown> {
  const { title, bytes } = await joinedStrip(id);
  return giveSound(opened, modId, title, bytes);
}
