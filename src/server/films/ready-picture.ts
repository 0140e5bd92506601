import { INPUT_SAFELY, outputOf } from '@/media/film/node/run-ffmpeg';
import { servedFile } from '@/platform/node/served-file';
import type { JobContext } from '../running/job-context';

const EVERY_MS = 3000;
/** A look lets the encoder go first, and may wait for it. */
const LOOK_MS = 60_000;
/** The newest pictures are not all written yet; some containers write several seconds at once. */
const BACK_SECONDS = [1, 6];
const WIDE = 160;

/** Shows a picture of what is ready of a film while it is made; the answer ends that. Containers that can only be read once they are whole show none. */
export function showReady(
  file: string,
  demuxer: string,
  seconds: () => number,
  job: Pick<JobContext, 'show' | 'isHeld'>,
): () => void {
  let isOver = false;
  let timer: NodeJS.Timeout;
  const next = (): void => {
    timer = setTimeout(() => void look(), EVERY_MS);
  };
  const look = async (): Promise<void> => {
    const ready = seconds();
    for (const back of BACK_SECONDS) {
      if (ready <= back || isOver || job.isHeld()) break;
      // It is not far enough yet, or cannot be read before its end.
      const picture = await readyPicture(file, demuxer, ready - back).catch(() => undefined);
      if (picture === undefined) continue;
      job.show(picture);
      break;
    }
    if (!isOver) next();
  };
  next();
  return () => {
    isOver = true;
    clearTimeout(timer);
  };
}

/** A small picture out of a film that may still be written, as an address of its own. */
export async function readyPicture(file: string, demuxer: string, seconds: number): Promise<string> {
  const jpeg = await servedFile(file, (url) =>
    outputOf(
      'ffmpeg',
      [
        ...[...INPUT_SAFELY, '-ss', seconds.toFixed(3), '-f', demuxer, '-i', url, '-map', '0:v:0'],
        ...['-frames:v', '1', '-vf', `scale=${WIDE}:-2`, '-c:v', 'mjpeg', '-q:v', '6'],
        ...['-pix_fmt', 'yuvj420p', '-f', 'image2pipe', 'pipe:1'],
      ],
      LOOK_MS,
      true,
    ),
  );
  if (jpeg.length === 0) throw new RangeError('There is no picture there yet.');
  return `data:image/jpeg;base64,${jpeg.toString('base64')}`;
}
