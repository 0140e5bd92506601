import fs from 'node:fs';
import path from 'node:path';
import { FormatError, type BytesRef } from '@/core/bytes';
import { containerOf, typeOfHead } from '@/core/kinds';
import { decodedLength, heardFrames } from '@/media/sound/core/audio';
import type { ConvertContext, ToConvert } from '@/platform/node/convert/converter';
import { writeFully } from '@/platform/node/file-sink';
import { boundFor, tooLong } from './bounds';
import type { Prepared } from './ffmpeg';

/**
 * How ffmpeg is told what a file is: by its head, never by ffmpeg's own guess, since some of the formats that it knows are lists
 * of other files to be opened.
 */
export const DEMUXERS: Readonly<Record<string, string>> = {
  wav: 'wav',
  ogg: 'ogg',
  flac: 'flac',
  mp3: 'mp3',
  mp4: 'mov',
  aac: 'aac',
  aif: 'aiff',
  au: 'au',
};
export const HEAD_BYTES = 4096;

export const VORBIS = '\u0001vorbis';
/** The codec of an Ogg is named in its first page (RFC 3533, section 6). */
export const isOggOf = (word: string, head: Uint8Array): boolean =>
  Buffer.from(head.subarray(28, 28 + word.length)).toString('latin1') === word;

/** Refuses what says itself that it would be too long, before a byte of it is decoded. */
function refuseLong(plain: BytesRef, name: string, folder: string): void {
  const says = decodedLength(plain);
  if (!says) return;
  const bytes = says.frames * says.channels * Math.ceil((says.bits ?? 16) / 8);
  const bound = boundFor(folder, 1);
  if (bytes > bound)
    throw tooLong(name, bound, `${bytes} (${Math.round(says.frames / Math.max(1, says.rate) / 60)} minutes)`);
}

/** Lays a sound down where ffmpeg reads it, to be made a WAV of samples as wide as it has. */
export function lay(
  folder: string,
  index: number,
  { plain, path: name }: ToConvert,
  { check }: ConvertContext,
): Prepared {
  refuseLong(plain, name, folder);
  const input = path.join(folder, `${index}.in`);
  const fd = fs.openSync(input, 'wx');
  let head: Uint8Array | undefined;
  try {
    for (const chunk of plain.chunks()) {
      check();
      head ??= chunk.slice(0, HEAD_BYTES);
      writeFully(fd, chunk);
    }
  } finally {
    fs.closeSync(fd);
  }
  const first = head ?? new Uint8Array();
  const ending = containerOf(typeOfHead(first)?.ending ?? '');
  const demuxer = DEMUXERS[ending];
  if (!demuxer)
    throw new FormatError('not-recognised', {
      file: name,
      byteOffset: 0,
      expected: 'a sound (WAV, AIFF, AU, Ogg, FLAC, MP3, AAC, MP4)',
      remedy: 'Take it as it is stored, or write a script for its format',
    });
  const output = path.join(folder, `${index}.wav`);
  const frames = ending === 'ogg' && isOggOf(VORBIS, first) ? heardFrames(plain) : undefined;
  return { index, input, output, demuxer, codec: codecFor(ending, first), path: name, frames };
}

/** Samples as wide as the source has them, where it has whole numbers of more than 16 bits (FLAC's STREAMINFO, RFC 9639). */
function codecFor(ending: string, head: Uint8Array): string {
  if (ending !== 'flac' || head.length < 22) return 'pcm_s16le';
  const bits = (((head[20]! & 1) << 4) | (head[21]! >> 4)) + 1;
  return bits <= 16 ? 'pcm_s16le' : bits <= 24 ? 'pcm_s24le' : 'pcm_s32le';
}
