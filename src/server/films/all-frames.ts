import fs from 'node:fs';
import path from 'node:path';
import type { Readable } from 'node:stream';
import yazl from 'yazl';
import { MOST_SAVED_FRAMES } from '@/media/film/core/saved-frames';
import { INPUT_SAFELY, outputOf } from '@/media/film/node/run-ffmpeg';
import { makeTemporary } from '@/platform/node/temporary';
import { UserError } from '@/platform/user-error';
import type { OpenFilm } from './open-films';

const FRAMES_MS = 120_000;

/** All pictures of a film as PNG in a ZIP, numbered from 1 in the order in which they are shown; nothing of their size or shape is changed. */
export async function allFrames(film: OpenFilm): Promise<Readable> {
  const { source, urls, probed } = film;
  const { picture, seconds = 0 } = probed[0]!;
  if (!source.hasPicture || !picture) throw new UserError(422, `${source.title} has no pictures.`);
  const count = Math.round(seconds * picture.rate);
  if (count > MOST_SAVED_FRAMES)
    throw new UserError(
      413,
      `${source.title} has about ${count} pictures; up to ${MOST_SAVED_FRAMES} are saved at once. Take it out as MKV and cut it there.`,
    );
  const folder = makeTemporary();
  const { bavail, bsize } = fs.statfsSync(folder);
  const over = (): void => fs.rmSync(folder, { recursive: true, force: true });
  try {
    if (bavail * bsize < 4 * picture.width * picture.height * Math.min(count, 500))
      throw new UserError(
        507,
        'There is too little room on the disk for the pictures. Make room and try again.',
      );
    film.use();
    await outputOf(
      'ffmpeg',
      [
        ...[
          ...INPUT_SAFELY,
          '-f',
          source.inputs[0]!.demuxer,
          '-i',
          urls[0]!,
          '-map',
          '0:v:0',
          '-fps_mode',
          'passthrough',
        ],
        ...[
          '-frames:v',
          String(MOST_SAVED_FRAMES),
          '-c:v',
          'png',
          '-f',
          'image2',
          path.join(folder, '%06d.png'),
        ],
      ],
      FRAMES_MS,
    );
    const zip = new yazl.ZipFile();
    const stem = source.title
      .split('/')
      .pop()!
      .replace(/\.[^.]*$/, '');
    for (const name of fs.readdirSync(folder).sort())
      zip.addFile(path.join(folder, name), `${stem}-${name}`, { compress: false });
    zip.end();
    return (zip.outputStream as Readable).once('close', over);
  } catch (error) {
    over();
    throw error;
  }
}
