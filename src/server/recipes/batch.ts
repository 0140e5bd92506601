import fs from 'node:fs';
import path from 'node:path';
import { resolveInside } from '@/platform/node/inside';
import type { BatchAbout, BatchTask, TaskOutcome } from '@/platform/node/run-batch';

/** Part of a run, as it is sent to whoever takes it. */
export interface BatchBody extends BatchAbout {
  readonly gameId: number;
  readonly archiveId: number;
  readonly gameFolder: string;
  /** Output folder as its real path. */
  readonly root: string;
  /** Size and time of the archive's file when the run was planned. */
  readonly state: string;
  readonly tasks: readonly BatchTask[];
}

/** What comes of a batch; a failure ends the run. */
export type BatchAnswer =
  | { readonly outcomes: readonly TaskOutcome[] }
  | { readonly failure: { readonly message: string; readonly code?: string | undefined } };

/** Lies in the output folder while a run goes on, so that a worker can tell that it sees the same folder. */
const MARK = '.zero-latch-run';

export const markFolder = (root: string, jobId: string): void =>
  fs.writeFileSync(path.join(root, MARK), jobId);

export const unmarkFolder = (root: string): void => fs.rmSync(path.join(root, MARK), { force: true });

/** What of a batch's folders this process does not see, in words; undefined where it sees all. */
export function unseenOf(
  { gameFolder, root }: Pick<BatchBody, 'gameFolder' | 'root'>,
  jobId: string,
): string | undefined {
  if (!fs.existsSync(gameFolder)) return `${gameFolder} is not there`;
  try {
    if (fs.readFileSync(path.join(root, MARK), 'utf8') === jobId) return undefined;
  } catch {
    // Said below.
  }
  return `${root} is not the folder that the run writes to, or not there`;
}

/** Size and time of a file below the game folder, as it is now. */
export function stateOfFile(gameFolder: string, relative: string): string {
  const stat = fs.statSync(resolveInside(gameFolder, path.normalize(relative)), { throwIfNoEntry: false });
  return stat ? `${stat.size} ${Math.round(stat.mtimeMs)}` : 'gone';
}
