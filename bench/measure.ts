import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';

export interface Run {
  readonly seconds: number;
  /** Largest resident size in bytes; 0 for programs that are not ours. */
  readonly peak: number;
}

const root = path.resolve(import.meta.dirname, '..');

/** Runs a program to its end and takes the wall time; after the disk has settled; what is cached stays so. */
export function timed(command: string, args: readonly string[]): Run {
  const peakFile = path.join(os.tmpdir(), `zero-latch-peak-${process.pid}`);
  fs.rmSync(peakFile, { force: true });
  // What the run before has left to be written would otherwise be paid by this one.
  spawnSync('sync');
  const began = performance.now();
  const result = spawnSync(command, args, {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: {
      ...process.env,
      NODE_OPTIONS: `--import=file://${root}/bench/peak-memory.mjs`,
      PEAK_MEMORY_FILE: peakFile,
    },
  });
  const seconds = (performance.now() - began) / 1000;
  if (result.status !== 0)
    throw new Error(`${command} ${args.join(' ')} ended with ${result.status ?? result.signal}`);
  const peak = fs.existsSync(peakFile) ? Number(fs.readFileSync(peakFile, 'utf8')) : 0;
  return { seconds, peak };
}

/** Runs both in turn, several times, and gives the median of each, so that a noisy neighbour hits both. */
export function interleaved(
  rounds: number,
  baseline: () => Run,
  ours: () => Run,
): { baseline: Run; ours: Run; ratio: number } {
  const a: Run[] = [];
  const b: Run[] = [];
  for (let i = 0; i < rounds; i++) {
    a.push(baseline());
    b.push(ours());
  }
  const median = (runs: Run[]): Run =>
    runs.sort((x, y) => x.seconds - y.seconds)[Math.floor(runs.length / 2)]!;
  const peak = Math.max(...b.map((run) => run.peak));
  const [base, own] = [median(a), median(b)];
  return { baseline: base, ours: { ...own, peak }, ratio: own.seconds / base.seconds };
}

export const MB = (bytes: number): string => `${Math.round(bytes / 1e6)} MB`;
