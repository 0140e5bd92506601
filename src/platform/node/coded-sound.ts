import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { LRUCache } from 'lru-cache';
import { z } from 'zod';
import { FormatError } from '@/core/bytes';
import { plainForm, waveFile, type Coding } from '@/media/sound/core/audio';
import { readsItAlone } from '@/media/readers';
import { makeTemporary } from './temporary';

const DECODE_MS = 60_000;
const MOST_OUTPUT = 512 << 20;
/** What was decoded is heard, measured and looked at in turn; so many bytes of it stay. */
const KEPT_BYTES = 64 << 20;
const kept = new LRUCache<string, Uint8Array>({
  maxSize: KEPT_BYTES,
  sizeCalculation: ({ length }) => length,
});

const INPUT = 'input';

/** Decodes a sound that ffmpeg is told how to read into a wave file. Blocks this thread for as long; what was decoded a moment ago is known. Throws FormatError. */
export function decodeCoded(coding: Coding, bytes: Uint8Array, file: string): Uint8Array {
  if (!readsItAlone(coding.demuxer))
    throw new FormatError('bad-value', {
      ...{ file, fieldPath: 'sound.demuxer', actual: coding.demuxer },
      expected: 'a form that is a sound by itself, and no list of others',
    });
  const name = createHash('sha1').update(JSON.stringify(coding)).update(bytes).digest('hex');
  const known = kept.get(name);
  if (known) return known;
  const folder = makeTemporary();
  try {
    fs.writeFileSync(path.join(folder, INPUT), bytes);
    const wave = decodedIn(folder, coding, file);
    kept.set(name, wave);
    return wave;
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

const Told = z.object({
  streams: z
    .array(
      z.object({
        sample_rate: z.coerce.number().int().min(1).max(768_000),
        channels: z.number().int().min(1).max(64),
        sample_fmt: z.string().default(''),
        bits_per_raw_sample: z.coerce.number().optional().catch(undefined),
      }),
    )
    .min(1),
});

/** What samples of a form become in a wave file, so that nothing is lost: whole numbers stay whole. */
function plainOf(format: string, bits: number | undefined): readonly ['whole' | 'float', number, string] {
  if (/^(?:flt|dbl)/.test(format)) return ['float', 32, 'f32le'];
  if (format.startsWith('s32')) return bits === 24 ? ['whole', 24, 's24le'] : ['whole', 32, 's32le'];
  return ['whole', 16, 's16le'];
}

function decodedIn(folder: string, { demuxer, decoder, rate, channels }: Coding, file: string): Uint8Array {
  const run = (program: 'ffmpeg' | 'ffprobe', args: readonly string[]): Buffer =>
    outputIn(folder, program, args, file);
  const how = [
    ...['-protocol_whitelist', 'file', '-f', demuxer],
    ...(rate === undefined ? [] : ['-sample_rate', String(rate)]),
    ...(channels === undefined ? [] : ['-ch_layout', `${channels}c`]),
  ];
  const json = run('ffprobe', [...how, '-select_streams', 'a:0', '-show_streams', '-of', 'json', INPUT]);
  const told = Told.safeParse(JSON.parse(json.toString('utf8')));
  if (!told.success)
    throw new FormatError('codec-failed', {
      ...{ file, actual: `no sound in it as ${demuxer}` },
      remedy: 'Look whether the script names the right form',
    });
  const [stream] = told.data.streams as [z.infer<typeof Told>['streams'][number]];
  const [sort, bits, form] = plainOf(stream.sample_fmt, stream.bits_per_raw_sample);
  const decoding = decoder === undefined ? [] : ['-c:a', decoder];
  const samples = run('ffmpeg', [
    ...['-nostdin', '-xerror', ...how, ...decoding, '-i', INPUT],
    ...['-map', '0:a:0', '-c:a', `pcm_${form}`, '-f', form, 'pipe:1'],
  ]);
  const width = (bits / 8) * stream.channels;
  const frames = Math.floor(samples.length / width);
  return waveFile(
    plainForm(stream.sample_rate, stream.channels, sort, bits),
    frames,
    new Uint8Array(samples.buffer, samples.byteOffset, frames * width),
    [],
  );
}

/** What a program writes to its output, run in a folder that has the sound and nothing else. */
function outputIn(
  folder: string,
  program: 'ffmpeg' | 'ffprobe',
  args: readonly string[],
  file: string,
): Buffer {
  const { stdout, stderr, status, error } = spawnSync(program, ['-v', 'error', ...args], {
    ...{ cwd: folder, timeout: DECODE_MS, killSignal: 'SIGKILL', maxBuffer: MOST_OUTPUT },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const code = (error as NodeJS.ErrnoException | undefined)?.code;
  if (code === 'ENOENT')
    throw new FormatError('codec-failed', {
      ...{ file, why: 'ffmpeg is not installed', remedy: 'Install it (Debian: ffmpeg)' },
    });
  if (status !== 0) {
    const said = String(stderr).trim().split('\n').slice(0, 3).join('; ');
    throw new FormatError('codec-failed', {
      ...{ file, actual: said || `no end (${code ?? 'stopped'})` },
      remedy: 'Look whether the script names the right form, or take it as it is stored',
    });
  }
  return stdout;
}
