import os from 'node:os';
import type { Worker } from 'node:worker_threads';
import type { FromLane, LaneOpened, LaneWork, LaneWritten, ToLane } from './thing-lane';

/** A thread that opens and writes files. */
export type Lane = Pick<Worker, 'postMessage' | 'on' | 'terminate'>;

/** What became of a file: written under a name, not wanted, broken, or none for lanes. */
export type ThingDone =
  | { readonly sort: 'written'; readonly file: string; readonly path: string; readonly written: LaneWritten }
  | { readonly sort: 'unwanted' }
  | Exclude<LaneOpened, { sort: 'thing' }>;

const MOST_LANES = 4;
/** A lane opens the next file while the one before waits for its name. */
const AHEAD = 2;

interface Asked {
  readonly resolve: (message: never) => void;
  readonly reject: (error: unknown) => void;
}

/**
 * Files that are a thing each, opened and written by several threads. Names are given in the order of the files, whichever thread is faster, so that every run gives the same ones.
 */
export class ThingLanes {
  private readonly lanes: { readonly lane: Lane; readonly asked: Map<number, Asked> }[];
  private readonly done: Promise<ThingDone>[] = [];
  private readonly given: ((done: Promise<ThingDone>) => void)[] = [];
  private names: Promise<void> = Promise.resolve();
  private next = 0;
  private failure: unknown;

  constructor(
    private readonly paths: readonly string[],
    /** The file that a thing becomes, undefined where it is not wanted; asked for each file in order, whatever it is. */
    private readonly nameOf: (number: number, is: LaneOpened) => string | undefined,
    start: () => Lane,
  ) {
    for (const number of paths.keys()) {
      this.done[number] = new Promise((resolve) => (this.given[number] = resolve));
      // Told when it is asked for.
      this.done[number].catch(() => undefined);
    }
    const count = Math.min(MOST_LANES, os.availableParallelism(), paths.length);
    this.lanes = Array.from({ length: count }, () => this.begin(start()));
    for (const { lane, asked } of this.lanes) for (let i = 0; i < AHEAD; i++) void this.keepBusy(lane, asked);
  }

  /** What became of a file of the run. */
  of(number: number): Promise<ThingDone> {
    return this.done[number]!;
  }

  /** What is being written is written to its end, so that no half file is left behind. */
  async close(): Promise<void> {
    const begun = this.done.slice(0, this.next);
    this.next = this.paths.length;
    await Promise.allSettled(begun);
    await Promise.all(this.lanes.map(({ lane }) => lane.terminate()));
  }

  private begin(lane: Lane): { lane: Lane; asked: Map<number, Asked> } {
    const asked = new Map<number, Asked>();
    lane.on('message', (message: FromLane) => {
      const own = asked.get(message.number);
      asked.delete(message.number);
      own?.resolve(('opened' in message ? message.opened : message.written) as never);
    });
    const end = (error: unknown): void => {
      this.failure ??= error;
      for (const { reject } of asked.values()) reject(error);
      asked.clear();
    };
    lane.on('error', end);
    lane.on('exit', () => end(new Error('A thread of the extraction ended')));
    return { lane, asked };
  }

  private async keepBusy(lane: Lane, asked: Map<number, Asked>): Promise<void> {
    const ask = <T>(message: ToLane): Promise<T> =>
      new Promise((resolve, reject) => {
        if (this.failure) return reject(this.failure as Error);
        asked.set(message.number, { resolve: resolve as Asked['resolve'], reject });
        lane.postMessage(message);
      });
    while (this.next < this.paths.length) {
      const number = this.next++;
      const opened = ask<LaneOpened>({ sort: 'open', number, path: this.paths[number]! });
      // Told by whoever waits for it once its turn has come.
      opened.catch(() => undefined);
      const named = this.names.then(async () => {
        const is = await opened;
        return { is, file: this.nameOf(number, is) };
      });
      this.names = named.then(
        () => undefined,
        () => undefined,
      );
      const done = named.then(async ({ is, file }): Promise<ThingDone> => {
        if (is.sort !== 'thing') return is;
        const written = await ask<LaneWritten | null>({ sort: 'write', number, file: file ?? null });
        return written ? { sort: 'written', file: file!, path: is.path, written } : { sort: 'unwanted' };
      });
      this.given[number]!(done);
      await done.catch(() => undefined);
    }
  }
}

export type StartLane = (work: LaneWork) => Lane;
