import type { FitShown } from '@/core/fit';
import { withChannel, type ChannelName } from '@/media/picture/core/texture';
import { toPng } from '@/media/picture/node/pictures';
import { replaceEntry } from './mods';
import { pixelsOf } from '../looking/preview';
import { keepBlob, readBlob } from '../storage/storage';
import { basePicture } from './base-picture';
import type { OpenedEntry } from '../opening/opened';

/**
 * Puts a grey map into one channel of an entry's picture, as the mod has it by now; the other channels stay. What comes of it
 * is a change like any other.
 */
export async function putChannel(
  opened: OpenedEntry,
  modId: number,
  channel: ChannelName,
  inverted: boolean,
  map: { name: string; blob: string },
): Promise<FitShown> {
  const grey = await pixelsOf(readBlob(map.blob), map.name);
  const { pixels, stem } = await basePicture(opened, modId);
  const png = new Uint8Array(await toPng(withChannel(pixels, channel, grey, inverted)));
  const given = { name: `${stem} with ${channel} of ${map.name}.png`, blob: keepBlob(png), size: png.length };
  return replaceEntry(opened, modId, given);
}
