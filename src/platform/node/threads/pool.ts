import type { Worker } from 'node:worker_threads';
import { receivedError, type FromThread, type Requests, type ThreadData, type ToThread } from './messages';

export interface PoolOptions {
  /** The bundle that the threads run, without its ending. */
  readonly script: string;
  /** So many threads at most. */
  readonly most: number;
  /** So many requests are begun at once in each. */
  readonly atOnce?: number;
  /** A thread that rests for so long ends, since each holds memory; it stays where nothing is said. */
  readonly restMs?: number;
  /** A request that takes longer ends its thread. */
  readonly mostMs?: number;
  /** What is told to whoever asked for what took too long, or too much memory. */
  readonly tooMuch?: () => Error;
}

interface Waiting {
  readonly sort: string;
  readonly asked: unknown;
  readonly moved: readonly ArrayBuffer[];
  /** When it was begun by the thread that has it now. */
  since: number;
  readonly resolve: (gives: unknown) => void;
  readonly reject: (error: Error) => void;
}

interface Running {
  readonly worker: Worker;
  readonly waiting: Map<number, Waiting>;
  rest?: NodeJS.Timeout;
}

const WATCH_MS = 500;

/** Where the application's threads lie; undefined where it runs without them, as in tests of single parts. */
const folder = (): string | undefined => process.env.ZERO_LATCH_THREADS;
export const hasThreads = (): boolean => folder() !== undefined;

/**
 * Threads beside this one that answer requests of `R`, which `serveRequests` does there. They begin when they are needed. One that ends,
 * for want of memory or since a request took too long, is begun anew by the next request; of those that it had begun each is tried alone, so
 * that only the one that ended it fails, and those that it had not begun go to another.
 */
export class ThreadPool<R extends Requests> {
  private readonly threads: Running[] = [];
  private count = 0;
  /** Takes requests one by one of which one ended a thread. */
  private alone: ThreadPool<R> | undefined;

  constructor(private readonly options: PoolOptions) {}

  /** Buffers that are `moved` are gone here, and need not be copied. Errors come back as they were thrown there. */
  ask<K extends keyof R & string>(
    sort: K,
    asked: R[K]['asks'],
    moved: readonly ArrayBuffer[] = [],
  ): Promise<R[K]['gives']> {
    return new Promise((resolve, reject) => {
      this.hand(this.freest(), { sort, asked, moved, since: 0, resolve, reject });
    });
  }

  /** Starts a thread before anybody asks, where its beginning would be noticed. */
  warm(): void {
    if (this.threads.length === 0) this.start();
  }

  private freest(): Running {
    const idle = this.threads.find(({ waiting }) => waiting.size === 0);
    if (idle) return idle;
    if (this.threads.length < this.options.most) return this.start();
    return this.threads.reduce((a, b) => (b.waiting.size < a.waiting.size ? b : a));
  }

  private hand({ worker, waiting }: Running, one: Waiting): void {
    const id = ++this.count;
    one.since = Date.now();
    waiting.set(id, one);
    const { sort, asked, moved } = one;
    worker.postMessage({ id, sort, asked } satisfies ToThread, moved);
  }

  private start(): Running {
    const { atOnce = 1, mostMs = Infinity, script } = this.options;
    // Asked for by name, since the bundler of the pages would want to bundle what the thread runs.
    const { Worker: Thread } = process.getBuiltinModule('node:worker_threads');
    const workerData: ThreadData = { atOnce };
    const thread: Running = {
      worker: new Thread(`${folder()!}/${script}.mjs`, { workerData }),
      waiting: new Map(),
    };
    const { worker, waiting } = thread;
    /** Requests are begun in their order; the time of those that have not begun does not run. */
    const begun = (): [number, Waiting][] => [...waiting].slice(0, atOnce);
    const watch = setInterval(() => {
      if (begun().some(([, { since }]) => Date.now() - since > mostMs)) void worker.terminate();
    }, WATCH_MS);
    watch.unref();
    worker.on('message', (answer: FromThread) => {
      const one = waiting.get(answer.id);
      waiting.delete(answer.id);
      for (const [, next] of begun().slice(-1)) next.since = Date.now();
      if ('error' in answer) one?.reject(receivedError(answer.error));
      else one?.resolve(answer.gives);
      this.restLater(thread);
    });
    const ended = (error: Error): void => {
      clearInterval(watch);
      clearTimeout(thread.rest);
      this.forget(thread);
      const suspects = new Set(begun().map(([id]) => id));
      const left = [...waiting];
      waiting.clear();
      for (const [id, one] of left) this.again(one, suspects.has(id), suspects.size, error);
    };
    const tooMuch = this.options.tooMuch ?? (() => new Error(`A thread of ${script} ended`));
    worker.on('error', (error: NodeJS.ErrnoException) =>
      ended(error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? tooMuch() : error),
    );
    worker.on('exit', () => ended(tooMuch()));
    worker.unref();
    this.threads.push(thread);
    return thread;
  }

  /** What becomes of a request whose thread ended. What was moved there is lost with it. */
  private again(one: Waiting, isSuspect: boolean, suspects: number, error: Error): void {
    if (one.moved.length > 0 || (isSuspect && suspects === 1)) one.reject(error);
    else if (!isSuspect) this.hand(this.freest(), one);
    else {
      this.alone ??= new ThreadPool<R>({ ...this.options, most: 1, atOnce: 1, restMs: 0 });
      this.alone.hand(this.alone.freest(), one);
    }
  }

  private forget(thread: Running): void {
    const at = this.threads.indexOf(thread);
    if (at >= 0) this.threads.splice(at, 1);
  }

  private restLater(thread: Running): void {
    const { restMs } = this.options;
    if (restMs === undefined || thread.waiting.size > 0) return;
    clearTimeout(thread.rest);
    thread.rest = setTimeout(() => {
      if (thread.waiting.size > 0) return;
      this.forget(thread);
      void thread.worker.terminate();
    }, restMs).unref();
  }
}

declare global {
  var zeroLatchPools: Map<string, unknown> | undefined;
}

/** The pool of a name: the same one wherever it is asked for, though the bundler gives routes modules of their own. */
export function poolOf<R extends Requests>(name: string, options: () => PoolOptions): ThreadPool<R> {
  const pools = (globalThis.zeroLatchPools ??= new Map<string, unknown>());
  const known = pools.get(name) as ThreadPool<R> | undefined;
  if (known) return known;
  const pool = new ThreadPool<R>(options());
  pools.set(name, pool);
  return pool;
}
