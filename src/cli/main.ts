import { writeSync } from 'node:fs';
import { isMainThread, Worker, workerData } from 'node:worker_threads';
import { keepTrees } from '@/core/script';
import { treesIn } from '@/platform/node/tree-cache';
import { ExtractThread, serveExtraction } from '@/platform/node/extract-threads';
import type { HelperWork } from './extract';
import { openGiven, openOptions } from './open';
import { run } from './run';
import { serveThings, type LaneWork } from './thing-lane';

/** Lines are gathered, since a system call a line takes longer than the work itself. */
const lines: string[] = [];
let held = 0;

function flush(): void {
  const bytes = Buffer.from(lines.join(''));
  lines.length = 0;
  held = 0;
  for (let done = 0; done < bytes.length;)
    try {
      done += writeSync(1, bytes, done);
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      // The reader is slow, or has seen enough.
      if (code === 'EPIPE') process.exit(0);
      if (code !== 'EAGAIN') throw error;
    }
}

/** Threads are this same file again. */
async function main(): Promise<void> {
  if (process.env.ZERO_LATCH_TREES) keepTrees(treesIn(process.env.ZERO_LATCH_TREES));
  if (!isMainThread) {
    if ('lane' in (workerData as object)) return serveThings(workerData as LaneWork);
    const { path, given, folder, stored, keepStanding, isFresh } = workerData as HelperWork;
    serveExtraction(() => openGiven(path, given, openOptions(given)).archive, folder, {
      stored,
      keepStanding,
      isFresh,
    });
    return;
  }
  process.exitCode = await run(process.argv.slice(2), {
    out(line) {
      lines.push(`${line}\n`);
      held += line.length;
      if (held > 1 << 16) flush();
    },
    complain(line) {
      flush();
      process.stderr.write(`${line}\n`);
    },
    lane: (work) => new Worker(new URL(import.meta.url), { workerData: work }),
    helper: (work) => new ExtractThread(new Worker(new URL(import.meta.url), { workerData: work })),
  });
  flush();
}

void main();
