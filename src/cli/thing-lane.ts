import { parentPort } from 'node:worker_threads';
import { entryAsShown } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import { extractTasks } from '@/platform/node/extract-files';
import { doubtsOf } from './doubts';
import { openGiven, openOptions, type OpenArguments, type Opened } from './open';
import { UsageError } from './usage-error';

/** What a thread needs to know that takes files which are a thing each. */
export interface LaneWork {
  readonly lane: true;
  readonly given: OpenArguments;
  readonly folder: string;
  readonly stored: boolean;
  readonly keepStanding: boolean;
}

/** A file is opened first, and written once it is known what it is called; `file` is null where it is not wanted. */
export type ToLane =
  | { readonly sort: 'open'; readonly number: number; readonly path: string }
  | { readonly sort: 'write'; readonly number: number; readonly file: string | null };

/** What a file is. `path` is what the thing in it is called; of what is no thing there is none. */
export type LaneOpened =
  | { readonly sort: 'thing'; readonly path: string }
  | { readonly sort: 'other' }
  | { readonly sort: 'broken'; readonly message: string };
export interface LaneWritten {
  readonly index: number;
  readonly bytes: number;
  readonly error: string | null;
  readonly doubts: readonly string[];
  readonly isGood: boolean;
}
export type FromLane =
  | { readonly number: number; readonly opened: LaneOpened }
  | { readonly number: number; readonly written: LaneWritten | null };

/** Whether all that a file holds is one thing, which then needs no folder of its own. */
export const isThing = ({ script, entries }: Opened['archive']): boolean =>
  script.isForFiles && entries.length === 1;

/** Opens and writes files as it is told, inside a thread. */
export function serveThings({ given, folder, stored, keepStanding }: LaneWork): void {
  const options = openOptions(given);
  const held = new Map<number, Opened>();
  const answer = (message: FromLane): void => parentPort!.postMessage(message);

  function open(number: number, path: string): LaneOpened {
    try {
      const opened = openGiven(path, given, options);
      if (!isThing(opened.archive)) {
        opened.close();
        return { sort: 'other' };
      }
      held.set(number, opened);
      return { sort: 'thing', path: entryAsShown(opened.archive, opened.archive.entries[0]!).path };
    } catch (error) {
      // Whoever asks opens it again, and tells what is wrong with the words of the command.
      if (error instanceof UsageError) return { sort: 'other' };
      if (error instanceof FormatError) return { sort: 'broken', message: error.message };
      throw error;
    }
  }

  async function write(number: number, file: string | null): Promise<LaneWritten | null> {
    const opened = held.get(number)!;
    held.delete(number);
    try {
      if (file === null) return null;
      const { archive, path } = opened;
      const { index } = archive.entries[0]!;
      const how = { stored, keepStanding, isFresh: false };
      const [result] = await extractTasks(archive, [{ number, index, file }], folder, how);
      const doubts = doubtsOf(archive, path);
      const error = result!.error && new FormatError(result!.error.code, result!.error.facts);
      return {
        ...{ index, bytes: result!.bytes, error: error?.message ?? null },
        doubts: doubts.map(({ text }) => text),
        isGood: !error && doubts.every(({ isHarmless }) => isHarmless),
      };
    } finally {
      opened.close();
    }
  }

  let turn: Promise<void> = Promise.resolve();
  parentPort!.on('message', (message: ToLane) => {
    turn = turn.then(async () => {
      const { number } = message;
      if (message.sort === 'open') answer({ number, opened: open(number, message.path) });
      else answer({ number, written: await write(number, message.file) });
    });
  });
}
