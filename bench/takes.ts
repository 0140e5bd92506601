// Many short takes: taken out as WAV and MP3, and measured, against one ffmpeg process a file; every file per second in turn.
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { FormatError, refOfBytes } from '../src/core/bytes';
import { measureWave } from '../src/media/sound/core/audio';
import { soundConverters } from '../src/media/sound/node/sounds';

const TAKES = Number(process.env.TAKES ?? 1024);
/** One process a file takes long; some of them tell what all would. */
const ALONE = 128;
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-bench-takes-'));
const ffmpeg = (...args: string[]): void =>
  void execFileSync('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args]);
const context = { mediaScripts: () => undefined, check: () => undefined };

try {
  const takes = Array.from({ length: 16 }, (_, i) => {
    const file = path.join(folder, `${i}.ogg`);
    const source = `aevalsrc=0.4*sin(2*PI*t*(180+${40 * i}+90*t))+0.05*random(0):s=44100:d=${(0.6 + 0.15 * i).toFixed(2)}`;
    ffmpeg('-f', 'lavfi', '-i', source, '-c:a', 'libvorbis', '-q:a', '4', file);
    return new Uint8Array(fs.readFileSync(file));
  });
  const items = Array.from({ length: TAKES }, (_, i) => ({
    plain: refOfBytes(takes[i % takes.length]!),
    path: `take ${i}.ogg`,
  }));
  const ours = async (way: string, use: (made: ReturnType<typeof refOfBytes>) => void): Promise<number> => {
    const { together = 1, convert } = soundConverters[way]!;
    const began = performance.now();
    for (let from = 0; from < items.length; from += together)
      await convert(items.slice(from, from + together), context, (_i, made) => {
        if (made instanceof FormatError) throw made;
        use(made);
      });
    return TAKES / ((performance.now() - began) / 1000);
  };
  const alone = (...encoder: string[]): number => {
    const began = performance.now();
    for (let i = 0; i < ALONE; i++) {
      const file = path.join(folder, 'in.ogg');
      fs.writeFileSync(file, takes[i % takes.length]!);
      ffmpeg('-i', file, ...encoder);
    }
    return ALONE / ((performance.now() - began) / 1000);
  };
  for (const [way, ...encoder] of [
    ['wav', '-c:a', 'pcm_s16le', path.join(folder, 'out.wav')],
    ['mp3', '-c:a', 'libmp3lame', '-q:a', '2', path.join(folder, 'out.mp3')],
  ] as const) {
    const [many, one] = [await ours(way, () => undefined), alone(...encoder)];
    const text = `${TAKES} takes as ${way}: ${many.toFixed(0)} a second, one process a file ${one.toFixed(0)}, ratio of times ${(one / many).toFixed(2)}`;
    process.stdout.write(`${text}\n`);
  }
  const measured = await ours('wav', (made) => void measureWave(made));
  process.stdout.write(`decoded and measured: ${measured.toFixed(0)} a second\n`);
} finally {
  fs.rmSync(folder, { recursive: true });
}
