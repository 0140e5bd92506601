import { FormatError } from '@/core/bytes';
import { noFfmpeg, plainWords, startFfmpeg } from './run-ffmpeg';

/** What is told of an encoder while it runs. */
export interface EncodeHooks {
  /** Pictures that are done. */
  progress(pictures: number): void;
  /** Throws where it is to stop. */
  check(): void;
  /** Whether it is to stand still for now. */
  isHeld?(): boolean;
}

/** What a program that runs others ends with where there is no such one. */
const NOT_FOUND = 127;

/**
 * Runs ffmpeg to its end, telling how far it is. Ends it where `check` throws, and throws that; throws FormatError with its own words where it fails. It runs below all else,
 * so that whoever works beside it is not held up.
 */
export async function encode(
  args: readonly string[],
  { progress, check, isHeld }: EncodeHooks,
): Promise<void> {
  const child = startFfmpeg(['-progress', 'pipe:1', '-stats_period', '0.5', ...args], 'pipe');
  let said = '';
  let stopped: unknown;
  child.stderr!.on('data', (part: Buffer) => {
    if (said.length < 4000) said += String(part);
  });
  let told = '';
  child.stdout!.on('data', (part: Buffer) => {
    told = (told + String(part)).slice(-4000);
    const found = [...told.matchAll(/^frame=\s*(\d+)\n/gm)].at(-1)?.[1];
    if (found !== undefined) progress(Number(found));
  });
  let isStill = false;
  const watch = setInterval(() => {
    try {
      check();
      const rests = isHeld?.() ?? false;
      if (rests !== isStill) child.kill(rests ? 'SIGSTOP' : 'SIGCONT');
      isStill = rests;
    } catch (error) {
      stopped = error;
      child.kill('SIGKILL');
    }
  }, 200);
  try {
    const code = await new Promise<number | null>((resolve, reject) => {
      child.once('error', (error) => reject(noFfmpeg(error) as Error));
      child.once('close', resolve);
    });
    if (stopped) throw stopped as Error;
    if (code === NOT_FOUND) throw noFfmpeg({ code: 'ENOENT' });
    if (code !== 0)
      throw new FormatError('codec-failed', {
        actual: plainWords(said) || `ffmpeg ended with ${code ?? 'a signal'}`,
        remedy: /No space left/.test(said)
          ? 'The disk is full. Nothing was changed; make room and begin anew'
          : 'Look whether the film that was given plays; another size, rate or bit rate may help',
      });
  } finally {
    clearInterval(watch);
  }
}
