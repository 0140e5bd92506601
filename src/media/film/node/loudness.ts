import type { Loudness } from '../core/probed';
import { INPUT_SAFELY, saidBy } from './run-ffmpeg';

/** What is quieter is as good as silent (EBU Tech 3341, the gate). */
const SILENT = -70;

/** Goes through a sound of a file at an address, the one of that number in it. Throws FormatError where it cannot be decoded, or takes longer. */
export async function measureLoudness(
  { url, demuxer, stream = 0 }: { readonly url: string; readonly demuxer: string; readonly stream?: number },
  milliseconds: number,
): Promise<Loudness> {
  const said = await saidBy(
    [
      ...[...INPUT_SAFELY, '-f', demuxer, '-i', url],
      ...['-map', `0:a:${stream}`, '-af', 'ebur128=framelog=verbose', '-f', 'null', '-'],
    ],
    milliseconds,
  );
  const whole = Number([...said.matchAll(/I:\s+(-?[\d.]+) LUFS/g)].at(-1)?.[1] ?? Number.NaN);
  return { whole: Number.isFinite(whole) && whole > SILENT ? whole : null };
}
