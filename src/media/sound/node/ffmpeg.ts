import { spawn } from 'node:child_process';
import { FormatError, refOfSpan, type BytesRef } from '@/core/bytes';
import type { ConvertContext } from '@/platform/node/convert/converter';
import { openFileSource } from '@/platform/node/file-source';
import { SLACK_BYTES, tooLong } from './bounds';

const MOST_MS = 15 * 60_000;

/** Opus has samples at this rate only, whatever it was made of (RFC 7845, section 4). */
export const OPUS_RATE = 48_000;

/** A loop as comments, as players of games read them, where a format has no chunk for it: `from` and `to` in seconds, at the rate of what is made. */
export function loopComments(
  { from, to }: { readonly from: number; readonly to: number },
  rate: number,
): string[] {
  const start = Math.round(from * rate);
  const length = Math.round(to * rate) - start;
  return ['-metadata', `LOOPSTART=${start}`, '-metadata', `LOOPLENGTH=${length}`];
}

export interface SoundShape {
  readonly rate: number;
  readonly channels: number;
  /** Channels that it has now. */
  readonly from: number;
}

export interface Prepared {
  readonly index: number;
  readonly input: string;
  readonly output: string;
  readonly demuxer: string;
  readonly codec: string;
  /** Rate and channels that it is to have; its own where nothing is said. */
  readonly shape?: SoundShape | undefined;
  /** What ffmpeg is told of another result than a WAV. */
  readonly encoder?: readonly string[] | undefined;
  readonly path: string;
  /** By how much it is made louder, in dB. */
  readonly gain?: number | undefined;
  /** Of Vorbis, how many frames it is heard with: of one that lies in a single page ffmpeg takes other ones. */
  readonly frames?: number | undefined;
}

/** Mono is copied to all channels, and all are mixed to mono in equal parts; anything else is left to ffmpeg. */
function mixFilter({ channels, from }: SoundShape): string | undefined {
  if (from === channels || (from > 1 && channels > 1)) return undefined;
  const each = (of: number, text: (i: number) => string, between: string): string =>
    Array.from({ length: of }, (_, i) => text(i)).join(between);
  const mix =
    from === 1 ? each(channels, (i) => `c${i}=c0`, '|') : `c0=${each(from, (i) => `${1 / from}*c${i}`, '+')}`;
  return `pan=${channels}c|${mix}`;
}

/** What ffmpeg is told of the samples of a result. */
function shapeOptions({ shape, frames, gain }: Pick<Prepared, 'shape' | 'frames' | 'gain'>): string[] {
  const mix = shape && mixFilter(shape);
  const filters = [
    ...(frames === undefined ? [] : ['asetpts=N/SR/TB', `atrim=end_sample=${frames}`]),
    ...(mix ? [mix] : []),
    ...(gain === undefined ? [] : [`volume=${gain.toFixed(3)}dB:precision=float`]),
  ];
  return [
    ...(filters.length > 0 ? ['-af', filters.join(',')] : []),
    ...(shape ? ['-ar', String(shape.rate)] : []),
    ...(shape && !mix ? ['-ac', String(shape.channels)] : []),
  ];
}

/** Decodes files; undefined where all went well, else what was said. A damaged one is an error, not a gap. */
export async function decode(
  files: readonly Prepared[],
  { check }: ConvertContext,
  bound: number,
): Promise<string | undefined> {
  const args = ['-v', 'error', '-nostdin', '-xerror', '-y', '-protocol_whitelist', 'file'];
  for (const { demuxer, input, frames } of files)
    args.push(
      ...(frames === undefined ? [] : ['-flags2', '+skip_manual']),
      ...['-err_detect', 'explode', '-f', demuxer, '-i', input],
    );
  for (const [i, { codec, output, shape, encoder, frames, gain }] of files.entries())
    args.push(
      ...['-map', `${i}:a:0`, '-map_metadata', '-1', ...shapeOptions({ shape, frames, gain }), '-bitexact'],
      ...['-fs', String(bound), ...(encoder ?? ['-c:a', codec, '-rf64', 'auto', '-f', 'wav']), output],
    );
  const child = spawn('ffmpeg', args, {
    stdio: ['ignore', 'ignore', 'pipe'],
    timeout: MOST_MS,
    killSignal: 'SIGKILL',
  });
  const said: string[] = [];
  child.stderr.on('data', (text: Buffer) => said.length < 20 && said.push(String(text)));
  const watch = setInterval(() => {
    try {
      check();
    } catch {
      child.kill('SIGKILL');
    }
  }, 200);
  try {
    const code = await new Promise<number | null>((resolve, reject) => {
      child.once('error', (error: NodeJS.ErrnoException) =>
        reject(
          error.code === 'ENOENT'
            ? new FormatError('codec-failed', {
                why: 'ffmpeg is not installed',
                remedy: 'Install it (Debian: ffmpeg)',
              })
            : error,
        ),
      );
      child.once('close', resolve);
    });
    check();
    if (code === 0) return undefined;
    // Places of the temporary files mean nothing to anybody.
    return (
      said
        .join('')
        .replace(/\S*zero-latch-work-\S*?(?=[:\s]|$)/g, 'the sound')
        .trim()
        .split('\n')
        .slice(0, 3)
        .join('; ') || `ended with ${code ?? `nothing after ${MOST_MS / 60_000} minutes`}`
    );
  } finally {
    clearInterval(watch);
  }
}

export const cannotDecode = (file: string, actual: string): FormatError =>
  new FormatError('codec-failed', { file, actual, remedy: 'Take it as it is stored and look at it there' });

export function handOver(
  { index, output, path: name }: Prepared,
  bound: number,
  done: (index: number, result: BytesRef | FormatError) => void,
): void {
  const source = openFileSource(output, name);
  try {
    if (source.length >= bound - SLACK_BYTES) return done(index, tooLong(name, bound, 'more'));
    done(index, refOfSpan(source, 0, source.length));
  } finally {
    source.close();
  }
}
