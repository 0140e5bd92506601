import fs from 'node:fs';
import path from 'node:path';
import { refOfSpan, windowOf } from '@/core/bytes';
import { typeOfHead } from '@/core/kinds';
import { demuxerOf } from '@/media/film/node/demuxers';
import { encode } from '@/media/film/node/encode';
import { INPUT_SAFELY } from '@/media/film/node/run-ffmpeg';
import { serveBytes } from '@/platform/node/byte-server';
import { openFileSource, type FileSource } from '@/platform/node/file-source';
import { makeTemporary } from '@/platform/node/temporary';
import { UserError } from '@/platform/user-error';
import { blobFile, receiveBlob } from '../storage/storage';

/** Pictures that were given one behind the other, in the order in which they are shown. */
export interface GivenPictures {
  readonly blob: string;
  readonly name: string;
  readonly count: number;
  /** Pictures a second. */
  readonly rate: number;
  /** A sound that goes with them. */
  readonly sound?: string | undefined;
}

/** What reads pictures that lie one behind the other, by what the first of them is. */
const READERS: Readonly<Record<string, string>> = { png: 'png_pipe', jpg: 'jpeg_pipe' };
const FIRST_BYTES = 1024;

/**
 * Puts single pictures, and a sound, into one film, nothing coded anew: from then on it is like any that was given. Throws UserError where they are
 * none that can be read one by one, or where fewer come out than were given.
 */
export async function joinPictures({
  blob,
  name,
  count,
  rate,
  sound,
}: GivenPictures): Promise<{ sha256: string; size: number }> {
  const opened: FileSource[] = [];
  const open = (of: string) => {
    const source = openFileSource(blobFile(of), name);
    opened.push(source);
    return refOfSpan(source, 0, source.length);
  };
  const folder = makeTemporary();
  try {
    const refs = [open(blob), ...(sound === undefined ? [] : [open(sound)])];
    const reader = READERS[typeOfHead(windowOf(refs[0]!, 0, FIRST_BYTES))?.ending ?? ''];
    if (!reader)
      throw new UserError(
        422,
        `The first of the pictures is neither PNG nor JPEG. Give pictures of one of these.`,
      );
    const heard = refs[1] && demuxerOf(windowOf(refs[1], 0, FIRST_BYTES));
    if (refs[1] && heard === undefined)
      throw new UserError(
        422,
        'The sound begins like none that is known here. Give WAV, FLAC, MP3, Ogg or M4A.',
      );
    const served = await serveBytes(refs);
    const file = path.join(folder, 'joined.mkv');
    let done = 0;
    try {
      await encode(
        [
          ...[...INPUT_SAFELY, '-f', reader, '-framerate', String(rate), '-i', served.urls[0]!],
          ...(heard === undefined ? [] : [...INPUT_SAFELY, '-f', heard, '-i', served.urls[1]!]),
          ...['-map', '0:v:0', ...(heard === undefined ? [] : ['-map', '1:a:0'])],
          ...['-c', 'copy', '-map_metadata', '-1', '-f', 'matroska', '-y', file],
        ],
        { check: () => undefined, progress: (pictures) => (done = pictures) },
      );
    } finally {
      served.close();
    }
    if (done !== count)
      throw new UserError(
        422,
        `${done} of ${count} pictures could be read. All have to be ${reader === 'png_pipe' ? 'PNG' : 'JPEG'} files that are whole.`,
      );
    return await receiveBlob(fs.createReadStream(file), Infinity);
  } finally {
    for (const source of opened) source.close();
    fs.rmSync(folder, { recursive: true, force: true });
  }
}
