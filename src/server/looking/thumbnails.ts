import { randomUUID } from 'node:crypto';
import fs from 'node:fs';
import { hasLookThread, lookBeside } from './look-threads';
import { stampOfEntry, type OpenedEntry } from '../opening/opened';
import { toPng } from '@/media/picture/node/pictures';
import { smallPixels } from './preview';
import { storageFolder } from '../storage/storage';

/**
 * A small PNG of a picture, made when it is first asked for and kept until the archive changes. Decoding runs once for
 * each, so that scrolling back over a wall of pictures costs a read.
 */
export async function thumbnail(opened: OpenedEntry, most: number): Promise<Uint8Array> {
  const name = `${stampOfEntry(opened)}-${most}`;
  const file = `${storageFolder('thumbnails', String(opened.gameId), name.slice(0, 2))}/${name}.png`;
  try {
    return new Uint8Array(fs.readFileSync(file));
  } catch {
    // Not made yet.
  }
  const png = await made(opened, most);
  const temporary = `${file}.${randomUUID()}`;
  fs.writeFileSync(temporary, png);
  fs.renameSync(temporary, file);
  return new Uint8Array(png);
}

/** The catalogue, which loose files are found by, is not held a second time beside the server. */
async function made(opened: OpenedEntry, most: number): Promise<Uint8Array> {
  const { gameId, row, entry } = opened;
  if (hasLookThread() && row.sort !== 'loose')
    return lookBeside('thumbnail', { gameId, archiveId: row.id, index: entry.index, most });
  return toPng(await smallPixels(opened, most), 'colour', most);
}
