import { availableParallelism } from 'node:os';
import { parentPort, workerData, type Worker } from 'node:worker_threads';
import { NameList } from '@/core/archive';
import { lookInto, type ArchiveOutcome, type ArchiveTask } from '@/server/scan/look-into';
import type { ScanThreads } from '@/server/scan/scan';
import { startThread } from './thread';

type ToThread =
  | { readonly sort: 'names'; readonly lines: Uint8Array }
  | { readonly sort: 'tasks'; readonly tasks: readonly ArchiveTask[] };
type FromThread = { readonly outcomes: readonly ArchiveOutcome[] } | { readonly failure: string };

/** Archives that are handed over at a time; more would leave one thread with the rest at the end. */
const BATCH = 4;
const MOST_THREADS = 4;

/** Starts threads that look into archives. */
export function startScanThreads(): ScanThreads {
  const workers = Array.from({ length: Math.min(MOST_THREADS, Math.max(1, availableParallelism())) }, () =>
    startThread('scan-thread', { scan: true }),
  );
  return {
    async run(tasks, names, onDone) {
      const shared = new Uint8Array(new SharedArrayBuffer(names.lines.length));
      shared.set(names.lines);
      const open = [...tasks];
      const outcomes: ArchiveOutcome[] = [];
      await Promise.all(
        workers.map(async (worker) => {
          worker.postMessage({ sort: 'names', lines: shared } satisfies ToThread);
          for (let batch = open.splice(0, BATCH); batch.length > 0; batch = open.splice(0, BATCH))
            for (const outcome of await ask(worker, batch)) {
              outcomes.push(outcome);
              onDone(outcome);
            }
        }),
      );
      return outcomes;
    },
    async close() {
      await Promise.all(workers.map((worker) => worker.terminate()));
    },
  };
}

function ask(worker: Worker, tasks: readonly ArchiveTask[]): Promise<readonly ArchiveOutcome[]> {
  return new Promise((resolve, reject) => {
    const onExit = (): void => reject(new Error('A thread that looked into archives ended'));
    worker.once('error', reject);
    worker.once('exit', onExit);
    worker.once('message', (answer: FromThread) => {
      worker.off('error', reject).off('exit', onExit);
      if ('failure' in answer) reject(new Error(answer.failure));
      else resolve(answer.outcomes);
    });
    worker.postMessage({ sort: 'tasks', tasks } satisfies ToThread);
  });
}

if ((workerData as { scan?: boolean } | null)?.scan && parentPort) {
  let names = NameList.parse('');
  parentPort.on('message', (message: ToThread) => {
    if (message.sort === 'names') {
      names = NameList.parse(message.lines);
      return;
    }
    let answer: FromThread;
    try {
      answer = { outcomes: message.tasks.map((task) => lookInto(task, names)) };
    } catch (error) {
      answer = { failure: error instanceof Error ? error.message : String(error) };
    }
    parentPort!.postMessage(answer);
  });
}
