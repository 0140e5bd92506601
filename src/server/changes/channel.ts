import type { FitState } from '@/core/fit';
import { withChannel, type ChannelName, type Pixels } from '@/core/media/texture';
import { pixelsBy, toPng } from '@/platform/node/pictures';
import { ChangeRow } from '@/db';
import { openedEntry } from '../opened';
import { entryPixels } from '../preview';
import { archivePathOf, modRow, replaceEntry } from '../mods';
import { pictureScriptFor } from '../scripts';
import { keepBlob, readBlob } from '../storage';

/**
 * Puts a grey map into one channel of an entry's picture, as the mod has it by now; the other channels stay. What comes of it
 * is a change like any other.
 */
export async function putChannel(
  gameId: number,
  modId: number,
  slot: { archiveId: number; index: number },
  channel: ChannelName,
  inverted: boolean,
  map: { name: string; blob: string },
): Promise<FitState> {
  await modRow(gameId, modId);
  const archivePath = await archivePathOf(gameId, slot.archiveId);
  const { entry } = await openedEntry(gameId, slot.archiveId, slot.index);
  const grey = await pixelsBy(readBlob(map.blob), map.name, pictureScriptFor);
  const before = await ChangeRow.findOne({ where: { modId, archivePath, entryIndex: slot.index } });
  const base: Pixels = before
    ? await pixelsBy(readBlob(before.givenBlob), before.givenName, pictureScriptFor)
    : await entryPixels(gameId, slot.archiveId, slot.index);
  const png = new Uint8Array(await toPng(withChannel(base, channel, grey, inverted)));
  const stem = entry.path.slice(entry.path.lastIndexOf('/') + 1).replace(/\.[^.]*$/, '');
  const given = { name: `${stem} with ${channel} of ${map.name}.png`, blob: keepBlob(png), size: png.length };
  return replaceEntry(gameId, modId, slot, given);
}
