import { availableParallelism } from 'node:os';
import { parentPort, workerData, type Worker } from 'node:worker_threads';
import { NameList } from '@/core/archive';
import {
  brokenOutcome,
  lookInto,
  timeFor,
  type ArchiveOutcome,
  type ArchiveTask,
} from '@/server/scan/look-into';
import type { ScanThreads } from '@/server/scan/scan';
import { refreshShelf } from '@/server/opening/scripts';
import { startThread } from './thread';

type ToThread =
  | { readonly sort: 'names'; readonly lines: Uint8Array }
  | { readonly sort: 'task'; readonly task: ArchiveTask };

const MOST_THREADS = 4;
/** What the tables of one archive may take of a thread; one that wants more is told as too large, and harms nothing else. */
const MOST_HEAP_MB = 3072;
/** A thread that decoders keep busy beyond their patience is ended after so many times what they were given. */
const GIVEN_UP_AFTER = 4;
const LOOK_MS = 100;
/** Threads that rest for so long end, but for one. */
const REST_MS = 30_000;

/** Threads of this process that rest. They are used again, since each takes a while to start. */
const resting: { readonly worker: Worker; readonly timer: NodeJS.Timeout }[] = [];

function takeThread(): Worker {
  const rested = resting.pop();
  if (!rested) return startThread('scan-thread', { scan: true }, { maxOldGenerationSizeMb: MOST_HEAP_MB });
  clearTimeout(rested.timer);
  rested.worker.removeAllListeners('exit');
  return rested.worker;
}

function rest(worker: Worker): void {
  const timer = setTimeout(() => {
    if (resting.length < 2) return;
    resting.splice(
      resting.findIndex((one) => one.worker === worker),
      1,
    );
    void worker.terminate();
  }, REST_MS);
  timer.unref();
  resting.push({ worker, timer });
  worker.once('exit', () => {
    const at = resting.findIndex((one) => one.worker === worker);
    if (at >= 0) resting.splice(at, 1);
  });
}

/** Starts threads that look into archives, one each at a time: whatever keeps a thread busy or ends it is told of that archive alone. */
export function startScanThreads(count = availableParallelism()): ScanThreads {
  const idle: Worker[] = [];
  return {
    async run(tasks, names, onDone, check) {
      const lines = new Uint8Array(new SharedArrayBuffer(names.lines.length));
      lines.set(names.lines);
      const open = [...tasks];
      const outcomes: ArchiveOutcome[] = [];
      const lane = async (): Promise<void> => {
        let worker: Worker | undefined;
        try {
          for (let task = open.shift(); task; task = open.shift()) {
            if (!worker) {
              worker = idle.pop() ?? takeThread();
              worker.postMessage({ sort: 'names', lines } satisfies ToThread);
            }
            const { outcome, isAlive } = await ask(worker, task, check);
            if (!isAlive) worker = undefined;
            outcomes.push(outcome);
            onDone(outcome);
          }
          if (worker) idle.push(worker);
        } catch (error) {
          // Told to stop: what is under way is not waited for, nor anything else begun.
          open.length = 0;
          await worker?.terminate();
          throw error;
        }
      };
      const lanes = Array.from({ length: Math.max(1, Math.min(MOST_THREADS, count, tasks.length)) }, lane);
      const ended = await Promise.allSettled(lanes);
      const failed = ended.find((one) => one.status === 'rejected');
      if (failed) throw failed.reason;
      return outcomes;
    },
    close() {
      for (const worker of idle.splice(0)) rest(worker);
      return Promise.resolve();
    },
  };
}

interface Answer {
  readonly outcome: ArchiveOutcome;
  /** Whether the thread can be asked again. */
  readonly isAlive: boolean;
}

/** Has a thread look into an archive; throws what `check` does when the job is told to stop meanwhile. */
function ask(worker: Worker, task: ArchiveTask, check: () => void): Promise<Answer> {
  const most = timeFor(task) * GIVEN_UP_AFTER;
  const began = Date.now();
  return new Promise((resolve, reject) => {
    const end = (settle: () => void): void => {
      clearInterval(timer);
      worker.off('error', onError).off('exit', onExit).off('message', onMessage);
      settle();
    };
    const giveUp = (reason: string, nextStep: string): void =>
      end(() => resolve({ outcome: brokenOutcome(task, reason, nextStep), isAlive: false }));
    const onMessage = (outcome: ArchiveOutcome): void => end(() => resolve({ outcome, isAlive: true }));
    const onError = (error: NodeJS.ErrnoException): void =>
      error.code === 'ERR_WORKER_OUT_OF_MEMORY'
        ? giveUp(
            `its tables take more than the ${MOST_HEAP_MB} MB that one archive may have`,
            'It may be damaged, or made to do harm. If it is neither, say so to those who make this application.',
          )
        : giveUp(`looking into it failed: ${error.message}`, 'Scan the folder again.');
    const onExit = (): void => giveUp('the thread that looked into it ended', 'Scan the folder again.');
    const timer = setInterval(() => {
      try {
        check();
      } catch (error) {
        end(() => reject(error as Error));
        return;
      }
      if (Date.now() - began < most) return;
      giveUp(
        `looking into it was given up after ${Math.round(most / 1000)} s`,
        'It may be damaged, or made to do harm. Other archives are not affected.',
      );
      void worker.terminate();
    }, LOOK_MS);
    worker.once('error', onError).once('exit', onExit).once('message', onMessage);
    worker.postMessage({ sort: 'task', task } satisfies ToThread);
  });
}

if ((workerData as { scan?: boolean } | null)?.scan && parentPort) {
  let names = NameList.parse('');
  parentPort.on('message', (message: ToThread) => {
    if (message.sort === 'names') {
      // A run begins: scripts may have been changed since the last one.
      refreshShelf();
      names = NameList.parse(message.lines);
    } else parentPort!.postMessage(lookInto(message.task, names));
  });
}
