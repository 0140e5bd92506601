import type { FitShown } from '@/core/fit';
import { withChannel, type ChannelName } from '@/media/picture/core/texture';
import { toPng } from '@/media/picture/node/pictures';
import { replaceEntry } from './mods';
import { pixelsOf } from '../looking/preview';
import { keepBlob, readBlob } from '../storage/storage';
import { basePicture, type Slot } from './base-picture';

/**
 * Puts a grey map into one channel of an entry's picture, as the mod has it by now; the other channels stay. What comes of it
 * is a change like any other.
 */
export async function putChannel(
  gameId: number,
  modId: number,
  slot: Slot,
  channel: ChannelName,
  inverted: boolean,
  map: { name: string; blob: string },
): Promise<FitShown> {
  const grey = await pixelsOf(readBlob(map.blob), map.name);
  const { pixels, stem } = await basePicture(gameId, modId, slot);
  const png = new Uint8Array(await toPng(withChannel(pixels, channel, grey, inverted)));
  const given = { name: `${stem} with ${channel} of ${map.name}.png`, blob: keepBlob(png), size: png.length };
  return replaceEntry(gameId, modId, slot, given);
}
