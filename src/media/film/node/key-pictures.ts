import { INPUT_SAFELY, outputOf } from './run-ffmpeg';

const KEYS_MS = 20_000;
/** So many pictures say how a film is made; more of a long one would keep whoever asks waiting. */
const MOST_LOOKED_AT = 6000;

/**
 * The most pictures from one that a player can begin at to the next, or to the end, among the first thousands of a film at an address; nothing is
 * decoded. 1 where each is one; undefined where there are no pictures.
 */
export async function keyDistance(url: string, demuxer: string): Promise<number | undefined> {
  const said = await outputOf(
    'ffprobe',
    [
      ...[...INPUT_SAFELY, '-f', demuxer, '-select_streams', 'v:0', '-show_entries', 'packet=flags'],
      ...['-read_intervals', `%+#${MOST_LOOKED_AT}`, '-of', 'csv=p=0', url],
    ],
    KEYS_MS,
  );
  return longestRun(said.toString().trim().split('\n').filter(Boolean));
}

/** The most lines from one that begins with K to before the next such. */
export function longestRun(flags: readonly string[]): number | undefined {
  let longest: number | undefined;
  let run = 0;
  for (const flag of flags) {
    run = flag.startsWith('K') ? 1 : run + 1;
    longest = Math.max(longest ?? 0, run);
  }
  return longest;
}
