import { randomUUID } from 'node:crypto';
import fs from 'node:fs';
import type { ArchiveRow } from '@/db';
import { hasLookThread, lookBeside } from './look-threads';
import { openedEntry, stampOfEntry } from '../opening/opened';
import { toPng } from '@/media/picture/node/pictures';
import { smallPixels } from './preview';
import { storageFolder } from '../storage/storage';

/**
 * A small PNG of a picture, made when it is first asked for and kept until the archive changes. Decoding runs once for
 * each, so that scrolling back over a wall of pictures costs a read.
 */
export async function thumbnail(
  gameId: number,
  archiveId: number,
  index: number,
  most: number,
): Promise<Uint8Array> {
  const { row, entry } = await openedEntry(gameId, archiveId, index);
  const name = `${stampOfEntry(gameId, row, entry)}-${most}`;
  const file = `${storageFolder('thumbnails', String(gameId), name.slice(0, 2))}/${name}.png`;
  try {
    return new Uint8Array(fs.readFileSync(file));
  } catch {
    // Not made yet.
  }
  const png = await made({ gameId, archiveId, index }, row, most);
  const temporary = `${file}.${randomUUID()}`;
  fs.writeFileSync(temporary, png);
  fs.renameSync(temporary, file);
  return new Uint8Array(png);
}

/** The catalogue, which loose files are found by, is not held a second time beside the server. */
async function made(
  { gameId, archiveId, index }: { gameId: number; archiveId: number; index: number },
  { sort }: ArchiveRow,
  most: number,
): Promise<Uint8Array> {
  if (hasLookThread() && sort !== 'loose') return lookBeside('thumbnail', { gameId, archiveId, index, most });
  return toPng(await smallPixels(gameId, archiveId, index, most), 'colour', most);
}
