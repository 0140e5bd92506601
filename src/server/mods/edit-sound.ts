import { fileStem } from '@/core/kinds';
import { z } from 'zod';
import type { FitShown } from '@/core/fit';
import { SoundEdit } from '@/media/sound/core/edit';
import { editSound } from '@/media/sound/node/edits';
import { besideEntry, describedIn, withBeside, wrappedSoundOf } from '@/platform/node/media-scripts';
import { ChangeRow } from '@/db';
import { hasLookThread, lookBeside } from '../looking/look-threads';
import { tracksBeside, wholeEntry } from '../looking/preview';
import type { OpenedEntry } from '../opening/opened';
import { mediaScriptFor } from '../opening/scripts';
import { keepBlob, readBlob } from '../storage/storage';
import { changeSlot } from './change-slot';
import { modRow, replaceEntry } from './mods';
import { originalEntry } from './original-entry';

export const SoundEdits = z.array(SoundEdit).min(1).max(20);

/** The sound of an entry as it is heard, out of whatever it is wrapped in. */
export function soundOf(opened: OpenedEntry): { bytes: Uint8Array; name: string } {
  const name = opened.entry.path;
  const bytes = wholeEntry(opened);
  return { bytes: wrappedSoundOf(bytes, name, mediaScriptFor)?.inner ?? bytes, name };
}

/** Puts a sound that was made here in the place of an entry, in that one's own form. */
export function giveSound(
  opened: OpenedEntry,
  modId: number,
  title: string,
  made: Uint8Array,
): Promise<FitShown> {
  const given = { name: `${title.slice(-240)}.wav`, blob: keepBlob(made), size: made.length };
  return replaceEntry(opened, modId, given, ['convert sound']);
}

/** The sound of an entry as a mod has it by now: what was given for it, so that nothing is lost twice, or the original as it is heard. */
async function baseSound(opened: OpenedEntry, modId: number): Promise<{ bytes: Uint8Array; name: string }> {
  const { gameId, archive, entry } = opened;
  await modRow(gameId, modId);
  const change = await ChangeRow.findOne({ where: { modId, ...(await changeSlot(opened)) } });
  const isGiven = change !== null && change.action !== 'remove';
  if (!isGiven) return soundOf(await originalEntry(opened));
  // What was given is mostly an open file; the game's own may be wrapped.
  const given = readBlob(change.givenBlob);
  return {
    bytes: withBeside(given, besideEntry(archive, entry.path), describedIn(archive, entry)),
    name: change.givenName,
  };
}

/** The work of an edit, beside whoever serves others where there is a thread for it. */
export const editHere = (bytes: Uint8Array, name: string, edits: readonly SoundEdit[]): Promise<Uint8Array> =>
  editSound(bytes, name, edits, tracksBeside);

/** Edits the sound of an entry as the mod has it by now; what comes of it is a change like any other, in the slot's own form. */
export async function editEntry(
  opened: OpenedEntry,
  modId: number,
  edits: readonly SoundEdit[],
): Promise<FitShown> {
  const { bytes, name } = await baseSound(opened, modId);
  const made = hasLookThread()
    ? await lookBeside('edited', { bytes, name, edits })
    : await editHere(bytes, name, edits);
  const stem = fileStem(name);
  const done = edits.map(({ sort }) => sort).join(', ');
  const title = stem.includes(' with ') ? `${stem}, ${done}` : `${stem} with ${done}`;
  return giveSound(opened, modId, title, made);
}
