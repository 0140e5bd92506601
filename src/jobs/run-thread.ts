import { randomUUID } from 'node:crypto';
import { parentPort } from 'node:worker_threads';
import type { EntryStore, StoredEntry } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import { FolderWriter } from '@/platform/node/folder-writer';
import { looseEntry, looseStore } from '@/platform/node/loose-store';
import { runBatch, type BatchTask, type TaskOutcome } from '@/platform/node/run-batch';
import { Cancelled } from '@/server/running/job-context';
import type { ArchiveLink } from '@/server/opening/opened';
import { stateOfFile, type BatchAnswer, type BatchBody } from '@/server/recipes/batch';
import { mediaScriptFor } from '@/server/opening/scripts';
import { UserError } from '@/platform/user-error';
import { LinkedArchives } from './linked-archives';

/** Writes batches of extractions, one after the other, in a thread of a worker. */
export interface ToRunThread {
  readonly id: string;
  readonly body: string;
  /** How its archive is opened, or why that cannot be; nothing where its files are loose. */
  readonly links: readonly ArchiveLink[] | { readonly problem: string };
  /** One number: 1 once the job has been asked to stop. */
  readonly cancel: SharedArrayBuffer;
}

export type FromRunThread = { readonly id: string } & (
  { readonly answer: BatchAnswer } | { readonly stopped: true }
);

const archives = new LinkedArchives();

function storeOf({ gameFolder, isLoose, tasks }: BatchBody, links: ToRunThread['links']): EntryStore {
  if ('problem' in links) throw new UserError(409, links.problem);
  if (!isLoose) return archives.archive(gameFolder, links);
  const entries: StoredEntry[] = [];
  for (const { index, path, storedSize } of tasks) {
    const [size = `${storedSize}`, modifiedMs] = stateOfFile(gameFolder, path).split(' ');
    entries[index] = looseEntry(index, {
      path,
      size: Number(size) || 0,
      modified: modifiedMs === undefined ? undefined : Number(modifiedMs) / 1000,
    });
  }
  return looseStore(gameFolder, entries);
}

const failAll = (tasks: readonly BatchTask[], reason: string): readonly TaskOutcome[] =>
  tasks.map(() => ['failed', reason, 0] as const);

/** Where the archive became another one while it was read, what was taken from it is looked at again at the next run. */
function doubted(
  body: BatchBody,
  outcomes: readonly TaskOutcome[],
  writer: FolderWriter,
): readonly TaskOutcome[] {
  const reason = `${body.archive} changed while it was read; scan the folder and run this again`;
  return outcomes.map((outcome, i) => {
    if (outcome[0] !== 'written') return outcome;
    writer.forget(body.tasks[i]!.file);
    return ['failed', reason, 0];
  });
}

async function answer({ body: text, links, cancel }: ToRunThread): Promise<BatchAnswer> {
  const body = JSON.parse(text) as BatchBody;
  const flag = new Int32Array(cancel);
  const check = (): void => {
    if (Atomics.load(flag, 0) === 1) throw new Cancelled();
  };
  const { gameFolder, isLoose, root, archive: name, state } = body;
  const stateNow = (): string => (isLoose ? '' : stateOfFile(gameFolder, name.split('//')[0]!));
  let archive: EntryStore;
  try {
    if (stateNow() !== state)
      return {
        outcomes: failAll(
          body.tasks,
          `${name} has changed since the folder was scanned. Scan it, then run this again`,
        ),
      };
    archive = storeOf(body, links);
  } catch (error) {
    if (!(error instanceof FormatError || error instanceof UserError)) throw error;
    return { outcomes: failAll(body.tasks, error.message) };
  }
  const writer = new FolderWriter(root, randomUUID(), check);
  try {
    const stateOf = (task: BatchTask): string => (isLoose ? stateOfFile(gameFolder, task.path) : state);
    const context = { mediaScripts: mediaScriptFor, check };
    const outcomes = await runBatch(archive, body, body.tasks, stateOf, writer, context);
    return { outcomes: stateNow() === state ? outcomes : doubted(body, outcomes, writer) };
  } finally {
    writer.close();
  }
}

async function respond(task: ToRunThread): Promise<FromRunThread> {
  try {
    return { id: task.id, answer: await answer(task) };
  } catch (error) {
    if (error instanceof Cancelled) return { id: task.id, stopped: true };
    const { message, code } = error as NodeJS.ErrnoException;
    return { id: task.id, answer: { failure: { message, code } } };
  }
}

let last: Promise<void> = Promise.resolve();
parentPort?.on('message', (task: ToRunThread) => {
  last = last.then(async () => parentPort!.postMessage(await respond(task)));
});
