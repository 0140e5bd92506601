import { execFile, spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import pLimit from 'p-limit';

/** What a Debian tool makes of some bytes; a missing or failing tool ends the build with its own words. */
function through(tool: string, args: readonly string[], input: Buffer): Buffer {
  const { stdout, stderr, status, error } = spawnSync(tool, args, { input, maxBuffer: 1 << 28 });
  if (error) throw new Error(`${tool} is needed to build the demo world: ${error.message}`);
  if (status !== 0) throw new Error(`${tool} ${args.join(' ')}: ${stderr.toString()}`);
  return stdout;
}

/** The same for what takes long and writes files: others go on meanwhile. */
async function beside(tool: string, args: readonly string[]): Promise<void> {
  try {
    await promisify(execFile)(tool, args);
  } catch (error) {
    throw new Error(`${tool} ${args.join(' ')}: ${(error as Error).message}`);
  }
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

async function inFolderMeanwhile<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'demo-tool-'));
  try {
    return await work(folder);
  } finally {
    fs.rmSync(folder, { recursive: true });
  }
}

/** So many tools work at a time. */
const inTurn = pLimit(Math.max(2, os.availableParallelism()));

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
export const opus = (wave: Buffer, loop?: Loop): Promise<Buffer> =>
  inFolderMeanwhile(async (folder) => {
    const [from, to] = [path.join(folder, 'sound.wav'), path.join(folder, 'sound.ogg')];
    fs.writeFileSync(from, wave);
    await inTurn(() =>
      beside('ffmpeg', [
        ...['-v', 'error', '-f', 'wav', '-i', from, '-c:a', 'libopus', '-b:a', '32k'],
        ...['-fflags', '+bitexact', '-flags', '+bitexact', '-map_metadata', '-1'],
        ...(loop ? ['-metadata', `LOOPSTART=${loop.start}`, '-metadata', `LOOPLENGTH=${loop.length}`] : []),
        ...['-f', 'ogg', to],
      ]),
    );
    return fs.readFileSync(to);
  });

/** PNG frames as VP8 in the IVF container, which cannot be written to a pipe. */
export const film = (frames: readonly Buffer[], rate: number): Promise<Buffer> =>
  inFolderMeanwhile(async (folder) => {
    frames.forEach((frame, i) =>
      fs.writeFileSync(path.join(folder, `${String(i).padStart(4, '0')}.png`), frame),
    );
    const out = path.join(folder, 'film.ivf');
    const from = ['-v', 'error', '-framerate', String(rate), '-i', path.join(folder, '%04d.png')];
    const how = ['-c:v', 'libvpx', '-b:v', '420k', '-g', '24', '-threads', '1', '-pix_fmt', 'yuv420p'];
    await beside('ffmpeg', [...from, ...how, '-flags', '+bitexact', '-fflags', '+bitexact', out]);
    return fs.readFileSync(out);
  });

/** PNG frames and a wave file as a film in MPEG-1, as games of old machines had it. */
export const oldFilm = (frames: readonly Buffer[], rate: number, wave: Buffer): Promise<Buffer> =>
  inFolderMeanwhile(async (folder) => {
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
    await beside('ffmpeg', [...from, ...how, '-flags', '+bitexact', '-fflags', '+bitexact', out]);
    return fs.readFileSync(out);
  });
