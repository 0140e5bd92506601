import type { Worker } from 'node:worker_threads';
import { FormatError, type FormatErrorCode, type FormatErrorFacts } from '@/core/bytes';
import type { Head } from '@/core/media/head';
import type { Pixels, Place, Rectangle } from '@/core/media/texture';
import type { TexelFacts } from './texels';
import { UserError } from './user-error';

interface Which {
  readonly gameId: number;
  readonly archiveId: number;
  readonly index: number;
}
export type LookTask = Which &
  (
    | { readonly sort: 'thumbnail'; readonly most: number }
    /** `most` bytes are held at most. */
    | { readonly sort: 'head'; readonly most?: number }
    | { readonly sort: 'texels'; readonly place: Place; readonly part: Rectangle | undefined }
  );

export interface ToLookThread {
  readonly id: number;
  readonly task: LookTask;
}

export type FromLookThread = { readonly id: number } & (
  | { readonly png: Uint8Array }
  | { readonly head: Head }
  | { readonly texels: { readonly pixels: Pixels; readonly facts: TexelFacts } }
  | { readonly format: { readonly code: FormatErrorCode; readonly facts: FormatErrorFacts } }
  | { readonly user: { readonly status: UserError['status']; readonly message: string } }
  | { readonly failure: string }
);

interface Waiting {
  readonly resolve: (answer: FromLookThread) => void;
  readonly reject: (error: Error) => void;
}

interface Running {
  readonly worker: Worker;
  readonly waiting: Map<number, Waiting>;
}

/** A look that takes longer ends the thread; whoever waits is told so, and the next look begins a new one. */
const MOST_MS = 60_000;

declare global {
  var zeroLatchLookThread: Running | undefined;
  var zeroLatchLookCount: number | undefined;
}

/** Where the application's threads lie; undefined where it runs without them, as in tests of single parts. */
const folder = (): string | undefined => process.env.ZERO_LATCH_THREADS;

export const hasLookThread = (): boolean => folder() !== undefined;

/** Starts the thread before anybody looks at anything: its beginning takes a second, which the first wall of pictures would show. */
export function warmLookThread(): void {
  if (hasLookThread()) globalThis.zeroLatchLookThread ??= start();
}

/** Hands a look at an entry to the thread beside the server. Errors come back as they were thrown there. */
export async function lookBeside(
  task: LookTask,
): Promise<Extract<FromLookThread, { png: unknown } | { head: unknown } | { texels: unknown }>> {
  const { worker, waiting } = (globalThis.zeroLatchLookThread ??= start());
  const id = (globalThis.zeroLatchLookCount = (globalThis.zeroLatchLookCount ?? 0) + 1);
  const answer = await new Promise<FromLookThread>((resolve, reject) => {
    // Bytes that keep a reader busy for ever must not keep all others from being looked at.
    const late = setTimeout(() => void worker.terminate(), MOST_MS);
    const settled =
      <T>(settle: (value: T) => void) =>
      (value: T): void => {
        clearTimeout(late);
        settle(value);
      };
    waiting.set(id, { resolve: settled(resolve), reject: settled(reject) });
    worker.postMessage({ id, task } satisfies ToLookThread);
  });
  if ('format' in answer) throw new FormatError(answer.format.code, answer.format.facts);
  if ('user' in answer) throw new UserError(answer.user.status, answer.user.message);
  if ('failure' in answer) throw new Error(answer.failure);
  return answer;
}

function start(): Running {
  // Asked for by name, since the bundler of the pages would want to bundle what the thread runs.
  const { Worker: Thread } = process.getBuiltinModule('node:worker_threads');
  const worker = new Thread(`${folder()!}/look-thread.mjs`);
  const waiting = new Map<number, Waiting>();
  worker.on('message', (answer: FromLookThread) => {
    waiting.get(answer.id)?.resolve(answer);
    waiting.delete(answer.id);
  });
  // One that ends, as for want of memory, is started anew by the next look.
  const ended = (error: Error): void => {
    if (globalThis.zeroLatchLookThread?.worker === worker) globalThis.zeroLatchLookThread = undefined;
    for (const { reject } of waiting.values()) reject(error);
    waiting.clear();
  };
  worker.on('error', ended);
  worker.on('exit', () =>
    ended(new UserError(422, 'It could not be looked at: reading it took too long, or too much memory.')),
  );
  worker.unref();
  return { worker, waiting };
}
