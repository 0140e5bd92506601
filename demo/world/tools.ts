import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';

/** What a Debian tool makes of some bytes; a missing or failing tool ends the build with its own words. */
function through(tool: string, args: readonly string[], input: Buffer): Buffer {
  const { stdout, stderr, status, error } = spawnSync(tool, args, { input, maxBuffer: 1 << 28 });
  if (error) throw new Error(`${tool} is needed to build the demo world: ${error.message}`);
  if (status !== 0) throw new Error(`${tool} ${args.join(' ')}: ${stderr.toString()}`);
  return stdout;
}

/** Works in a folder that is gone afterwards. */
function inFolder<T>(work: (folder: string) => T): T {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'demo-tool-'));
  try {
    return work(folder);
  } finally {
    fs.rmSync(folder, { recursive: true });
  }
}

/** Zstandard frames (RFC 8878) of these bytes, without checks of their own, by one process. */
export const zstd = (plain: readonly Buffer[]): Buffer[] =>
  inFolder((folder) => {
    const files = plain.map((bytes, i) => {
      const file = path.join(folder, String(i));
      fs.writeFileSync(file, bytes);
      return file;
    });
    through('zstd', ['-q', '-12', '--no-check', ...files], Buffer.alloc(0));
    return files.map((file) => fs.readFileSync(`${file}.zst`));
  });

/** Where a sound is played again from, and how long, in samples. */
export interface Loop {
  readonly start: number;
  readonly length: number;
}

/** A wave file as Ogg Opus, the same on every run; its loop as comments, as many engines read them. */
export const opus = (wave: Buffer, loop?: Loop): Buffer =>
  through(
    'ffmpeg',
    [
      ...['-v', 'error', '-f', 'wav', '-i', 'pipe:0', '-c:a', 'libopus', '-b:a', '32k'],
      ...['-fflags', '+bitexact', '-flags', '+bitexact', '-map_metadata', '-1'],
      ...(loop ? ['-metadata', `LOOPSTART=${loop.start}`, '-metadata', `LOOPLENGTH=${loop.length}`] : []),
      ...['-f', 'ogg', 'pipe:1'],
    ],
    wave,
  );

/** PNG frames as VP8 in the IVF container, which cannot be written to a pipe. */
export const film = (frames: readonly Buffer[], rate: number): Buffer =>
  inFolder((folder) => {
    frames.forEach((frame, i) =>
      fs.writeFileSync(path.join(folder, `${String(i).padStart(4, '0')}.png`), frame),
    );
    const out = path.join(folder, 'film.ivf');
    const from = ['-v', 'error', '-framerate', String(rate), '-i', path.join(folder, '%04d.png')];
    const how = ['-c:v', 'libvpx', '-b:v', '420k', '-g', '24', '-threads', '1', '-pix_fmt', 'yuv420p'];
    through('ffmpeg', [...from, ...how, '-flags', '+bitexact', '-fflags', '+bitexact', out], Buffer.alloc(0));
    return fs.readFileSync(out);
  });

/** PNG frames and a wave file as a film in MPEG-1, as games of old machines had it. */
export const oldFilm = (frames: readonly Buffer[], rate: number, wave: Buffer): Buffer =>
  inFolder((folder) => {
    frames.forEach((frame, i) =>
      fs.writeFileSync(path.join(folder, `${String(i).padStart(4, '0')}.png`), frame),
    );
    fs.writeFileSync(path.join(folder, 'sound.wav'), wave);
    const out = path.join(folder, 'film.mpg');
    const from = ['-v', 'error', '-framerate', String(rate), '-i', path.join(folder, '%04d.png')];
    const how = [
      ...['-i', path.join(folder, 'sound.wav'), '-r', '25', '-c:v', 'mpeg1video', '-b:v', '700k'],
      ...['-g', '12', '-threads', '1', '-pix_fmt', 'yuv420p', '-c:a', 'mp2', '-b:a', '96k', '-f', 'mpeg'],
    ];
    through('ffmpeg', [...from, ...how, '-flags', '+bitexact', '-fflags', '+bitexact', out], Buffer.alloc(0));
    return fs.readFileSync(out);
  });
