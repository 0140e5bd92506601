import { Worker, parentPort } from 'node:worker_threads';
import type { Archive } from '@/core/archive';
import { extractTasks, type ExtractHelper, type ExtractResult, type ExtractTask } from './extract-files';

interface Answer {
  readonly results?: readonly ExtractResult[];
  /** A system error, such as a full disk. */
  readonly failure?: { readonly message: string; readonly code?: string; readonly path?: string };
}

/** A thread that extracts, as the one who asks sees it. */
export class ExtractThread implements ExtractHelper {
  private readonly waiting: {
    resolve: (results: readonly ExtractResult[]) => void;
    reject: (e: Error) => void;
  }[] = [];

  /** `worker` must run `serveExtraction`. */
  constructor(private readonly worker: Worker) {
    worker.on('message', ({ results, failure }: Answer) => {
      const next = this.waiting.shift();
      if (results) next?.resolve(results);
      else next?.reject(Object.assign(new Error(failure?.message), failure));
    });
    const end = (error: Error): void => {
      for (const { reject } of this.waiting.splice(0)) reject(error);
    };
    worker.on('error', end);
    worker.on('exit', () => end(new Error('A thread of the extraction ended')));
  }

  extract(tasks: readonly ExtractTask[]): Promise<readonly ExtractResult[]> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ resolve, reject });
      this.worker.postMessage(tasks);
    });
  }

  async close(): Promise<void> {
    await this.worker.terminate();
  }
}

/** Answers batches of tasks one after the other, inside a thread that has the archive open. */
export function serveExtraction(
  open: () => Archive,
  folder: string,
  how: { stored: boolean; keepStanding: boolean; isFresh: boolean },
): void {
  let archive: Archive | undefined;
  let turn: Promise<void> = Promise.resolve();
  parentPort!.on('message', (tasks: readonly ExtractTask[]) => {
    turn = turn.then(async () => {
      try {
        archive ??= open();
        const answer: Answer = { results: await extractTasks(archive, tasks, folder, how) };
        parentPort!.postMessage(answer);
      } catch (error) {
        const { message, code, path } = error as NodeJS.ErrnoException;
        const answer: Answer = {
          failure: { message, ...(code !== undefined && { code }), ...(path !== undefined && { path }) },
        };
        parentPort!.postMessage(answer);
      }
    });
  });
}
