import fs from 'node:fs';
import { FormatError } from '@/core/bytes';

/** A few bytes of silence can stand for days of it; longer results are refused, and so is a decoder that does not end. */
const MOST_WAVE_BYTES = 2 * 2 ** 30;
/** Bytes of the longest sound that is decoded, as whoever runs the application has set it. */
const mostBytes = (): number => Number(process.env.ZERO_LATCH_MOST_SOUND_BYTES) || MOST_WAVE_BYTES;
/** What has been decoded may take this share of the room that the disk had; the rest is for what is made of it. */
const SHARE_OF_ROOM = 0.5;
/** ffmpeg ends about so much before its bound. */
export const SLACK_BYTES = 1 << 20;

/** Bytes that each of so many sounds may take once it is decoded: what is set, and what the disk has room for. */
export function boundFor(folder: string, count: number): number {
  const { bavail, bsize } = fs.statfsSync(folder);
  return Math.max(
    2 * SLACK_BYTES,
    Math.min(mostBytes(), Math.floor((bavail * bsize * SHARE_OF_ROOM) / count)),
  );
}

export const tooLong = (name: string, expected: number, actual: string): FormatError =>
  new FormatError('budget', {
    file: name,
    expected: `at most ${expected} bytes once it is decoded`,
    actual,
    remedy:
      'Take it as it is stored; or make room on the disk, or have ZERO_LATCH_MOST_SOUND_BYTES allow more where bin/start is run',
  });
