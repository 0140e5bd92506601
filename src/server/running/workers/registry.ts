import {
  batchCounts,
  dropWorkerRow,
  enterWorkerRow,
  reapRows,
  setBlind,
  workerRows,
  type ReapedRows,
  type WorkerRow,
} from '@/db/workers';
import { RESUMED } from '../jobs';
import { hasEnded, type WorkerIdentity } from './identity';

/** A worker that says nothing for so long is taken for dead, and what it had is given to others. */
const SILENT_SECONDS = 20;

/** A worker as the application shows it. */
export interface WorkerView {
  readonly id: string;
  readonly title: string;
  readonly threads: number;
  readonly startedAt: string;
  readonly isSilent: boolean;
  /** Batches that it has now. */
  readonly batches: number;
  /** Folders of jobs that it does not see, in words. */
  readonly blind: readonly string[];
}

const rows = (): Promise<WorkerRow[]> => workerRows(SILENT_SECONDS);

/** Enters a worker, or renews what is known of it. */
export const enterWorker = (worker: WorkerIdentity): Promise<void> => enterWorkerRow(worker);

/** Takes a worker off, as it ends of itself. */
export const leaveWorker = (id: string): Promise<void> => dropWorkerRow(id);

/** Says which folders a worker does not see. */
export const noteBlind = (id: string, blind: readonly string[]): Promise<void> => setBlind(id, blind);

export async function listWorkers(): Promise<WorkerView[]> {
  const counts = await batchCounts();
  return (await rows()).map(({ id, title, threads, startedAt, isSilent, blind }) => ({
    ...{ id, title, threads, isSilent, blind },
    startedAt: startedAt.toISOString(),
    batches: counts.get(id) ?? 0,
  }));
}

/** Whether another living worker could take what this one does not see. */
export async function othersSee(me: WorkerIdentity, folder: string): Promise<boolean> {
  return (await rows()).some(
    ({ id, isSilent, blind }) =>
      id !== me.id && !isSilent && !blind.some((note) => note.includes(`${folder} `)),
  );
}

/** Whether a worker other than this one is there and says so. */
export async function livesStill(workerId: string, me: WorkerIdentity): Promise<boolean> {
  return (await rows()).some(({ id, isSilent }) => id === workerId && id !== me.id && !isSilent);
}

/** A job under which so many workers ended is not begun again by itself. */
const MOST_ATTEMPTS = 3;

/** Jobs that go on, to be sent again, and those that have failed. */
export type Reaped = ReapedRows;

/**
 * Takes off the workers that have ended without a word. Their batches are open again; the jobs that they led go on elsewhere where
 * they can, and are said to be over where they cannot.
 */
export async function reapWorkers(me: WorkerIdentity): Promise<Reaped> {
  const gone = (await rows()).filter(
    (worker) => worker.id !== me.id && (worker.isSilent || hasEnded(worker, me)),
  );
  return reapRows(
    gone.map(({ id }) => id),
    RESUMED,
    MOST_ATTEMPTS,
  );
}
