import { fileStem } from '@/core/kinds';
import { besideEntry, describedIn, withBeside } from '@/platform/node/media-scripts';
import { textureOf } from '@/media/picture/node/pictures';
import type { Pixels } from '@/media/picture/core/texture';
import { ChangeRow } from '@/db';
import { modRow } from './mods';
import { changeSlot } from './change-slot';
import type { OpenedEntry } from '../opening/opened';
import { entryPixels, pixelsOf } from '../looking/preview';
import { mediaScriptFor } from '../opening/scripts';
import { readBlob } from '../storage/storage';
import { originalEntry } from './original-entry';

export interface BasePicture {
  readonly pixels: Pixels;
  /** Of the entry, without folders and ending. */
  readonly stem: string;
}

/**
 * The picture of an entry as a mod has it by now, at the size of the slot: what was given for it, so that nothing is lost twice, or
 * what came of that where it had another size, or else the original.
 */
export async function basePicture(inFolder: OpenedEntry, modId: number | undefined): Promise<BasePicture> {
  const opened = modId === undefined ? inFolder : await originalEntry(inFolder);
  const { gameId, archive, entry } = opened;
  const stem = fileStem(entry.path);
  const original = await entryPixels(opened);
  if (modId === undefined) return { pixels: original, stem };
  await modRow(gameId, modId);
  const change = await ChangeRow.findOne({ where: { modId, ...(await changeSlot(inFolder)) } });
  if (!change || change.action === 'remove') return { pixels: original, stem };
  const isFitting = (pixels: Pixels): boolean =>
    pixels.width === original.width && pixels.height === original.height;
  const given = await pixelsOf(readBlob(change.givenBlob), change.givenName);
  if (isFitting(given)) return { pixels: given, stem };
  if (change.preparedBlob === null) return { pixels: original, stem };
  const bytes = withBeside(
    readBlob(change.preparedBlob),
    besideEntry(archive, entry.path),
    describedIn(archive, entry),
  );
  const prepared = textureOf(bytes, entry.path, mediaScriptFor) ? await pixelsOf(bytes, entry.path) : given;
  return { pixels: isFitting(prepared) ? prepared : original, stem };
}
