import { randomUUID } from 'node:crypto';
import fs from 'node:fs';
import { UserError } from '@/platform/user-error';
import { stampOfEntry, type OpenedEntry } from '../opening/opened';
import { storageFolder } from '../storage/storage';

/** Small pictures of entries that a page draws, since it takes a browser to; each is drawn once and kept until its archive changes. */
export const MOST_PORTRAIT_BYTES = 512 << 10;
const MOST_SIDE = 512;
const PNG_HEAD = Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex');
const PNG_HEAD_BYTES = 24;

function fileOf(opened: OpenedEntry): string {
  const name = stampOfEntry(opened);
  return `${storageFolder('thumbnails', String(opened.gameId), name.slice(0, 2))}/${name}-drawn.png`;
}

/** What was kept; undefined where nothing was. */
export function keptPortrait(opened: OpenedEntry): Uint8Array<ArrayBuffer> | undefined {
  try {
    return new Uint8Array(fs.readFileSync(fileOf(opened)));
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return undefined;
    throw error;
  }
}

/** Keeps a PNG of at most 512 x 512 dots. Throws UserError for what is none. */
export function keepPortrait(opened: OpenedEntry, png: Uint8Array): void {
  const view = new DataView(png.buffer, png.byteOffset, png.byteLength);
  const isPng = png.length > PNG_HEAD_BYTES && PNG_HEAD.equals(png.subarray(0, PNG_HEAD.length));
  // PNG, W3C, 11.2.1: width and height follow the name of the first chunk, highest byte first.
  const sides = isPng ? [view.getUint32(16), view.getUint32(20)] : [];
  if (!isPng || sides.some((side) => side === 0 || side > MOST_SIDE))
    throw new UserError(400, `A small picture is a PNG of at most ${MOST_SIDE} by ${MOST_SIDE} dots.`);
  const file = fileOf(opened);
  const temporary = `${file}.${randomUUID()}`;
  fs.writeFileSync(temporary, png);
  fs.renameSync(temporary, file);
}
