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

/** A wave file as Ogg Opus, the same on every run. */
export const opus = (wave: Buffer): Buffer =>
  through(
    'ffmpeg',
    [
      ...['-v', 'error', '-f', 'wav', '-i', 'pipe:0', '-c:a', 'libopus', '-b:a', '32k'],
      ...['-fflags', '+bitexact', '-flags', '+bitexact', '-map_metadata', '-1', '-f', 'ogg', 'pipe:1'],
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
    const how = ['-c:v', 'libvpx', '-b:v', '300k', '-g', '24', '-threads', '1', '-pix_fmt', 'yuv420p'];
    through('ffmpeg', [...from, ...how, '-flags', '+bitexact', '-fflags', '+bitexact', out], Buffer.alloc(0));
    return fs.readFileSync(out);
  });
