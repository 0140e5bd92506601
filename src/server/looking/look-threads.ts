import type { Worker } from 'node:worker_threads';
import { FormatError, type FormatErrorCode, type FormatErrorFacts } from '@/core/bytes';
import type { Mend, Prepared } from '@/core/fit';
import type { FilmHead, Head, SoundHead } from '@/media/head';
import type { Pixels, Place, Rectangle } from '@/media/picture/core/texture';
import type { Channel } from '@/media/picture/node/pictures';
import { sentAlong, type SentAlong } from '@/platform/node/media-scripts';
import type { ScriptCheck } from '../opening/own-scripts';
import { mediaScriptFor } from '../opening/scripts';
import type { TexelFacts } from './texels';
import { UserError } from '@/platform/user-error';

interface Which {
  readonly gameId: number;
  readonly archiveId: number;
  readonly index: number;
}
/** Where a loose file lies: the catalogue, which it is found by, is not held a second time beside the server. */
export interface LooseAt {
  readonly folder: string;
  readonly path: string;
  readonly size: number;
}

/** Bytes that are a picture, whatever it is wrapped in. */
interface PictureBytes {
  readonly bytes: Uint8Array;
  readonly name: string;
  /** What opening them needs of what lies beside; sent along by itself. */
  readonly along?: SentAlong | undefined;
}
/** How a picture is shown: one channel of it perhaps, and at most so many texels a side. */
export interface ShownAs {
  readonly place: Place;
  readonly channel: Channel;
  readonly inverted: boolean;
  readonly most: number | undefined;
}
/** What is given for a slot. */
export interface FitAsked {
  /** What the slot counts as. */
  readonly kind: string;
  readonly given: Uint8Array;
  readonly givenName: string;
  readonly mends: readonly Mend[];
}

export type LookTask =
  | (Which &
      (
        | { readonly sort: 'thumbnail'; readonly most: number }
        /** `most` bytes are held at most. */
        | { readonly sort: 'head'; readonly most?: number; readonly loose?: LooseAt }
        | { readonly sort: 'texels'; readonly place: Place; readonly part: Rectangle | undefined }
      ))
  | { readonly sort: 'script'; readonly text: string }
  | (PictureBytes &
      (
        | ({ readonly sort: 'png' } & ShownAs)
        | { readonly sort: 'pixels'; readonly place: Place }
        | { readonly sort: 'alpha' }
        | { readonly sort: 'tracks' }
        /** `bytes` and `name` are those of the slot. */
        | ({ readonly sort: 'fit' } & FitAsked)
        | { readonly sort: 'texels of'; readonly place: Place; readonly part: Rectangle | undefined }
      ));

export interface ToLookThread {
  readonly id: number;
  readonly task: LookTask;
}

export type FromLookThread = { readonly id: number } & (
  | { readonly png: Uint8Array }
  | { readonly pixels: Pixels }
  | { readonly alpha: boolean }
  | { readonly check: ScriptCheck }
  | { readonly tracks: SoundHead | FilmHead | undefined }
  | { readonly head: Head }
  | { readonly prepared: Prepared }
  | { readonly texels: { readonly pixels: Pixels; readonly facts: TexelFacts } }
  | { readonly format: { readonly code: FormatErrorCode; readonly facts: FormatErrorFacts } }
  | { readonly user: { readonly status: UserError['status']; readonly message: string } }
  | { readonly failure: string }
);

/** What a look thread is started with. */
export interface LookThreadData {
  /** So many looks are begun at once; the others' time does not run yet. */
  readonly atOnce: number;
}

interface Waiting {
  readonly task: LookTask;
  /** When it was handed to the thread that has it now. */
  since: number;
  readonly resolve: (answer: FromLookThread) => void;
  readonly reject: (error: Error) => void;
}

interface Running {
  readonly worker: Worker;
  readonly waiting: Map<number, Waiting>;
}

/** A look that takes longer ends the thread; whoever asked for it is told so, and the others' begin anew in the next one. */
const MOST_MS = 30_000;
const WATCH_MS = 500;
/** Looks that the usual thread begins at once. */
const USUALLY_AT_ONCE = 3;

/** What is coded anew takes longer than what is looked at: a large picture in the best quality, an hour of sound. */
const MOST_FIT_MS = 20 * 60_000;
/** A thread that fits rests so long before it ends, since it holds memory. */
const REST_MS = 60_000;

/**
 * The usual thread, one that takes the looks of a thread that ended one by one, until it is known which of them ends it, and one in which
 * what is given is made ready for its slot, so that no look waits for that.
 */
type Kind = 'usual' | 'suspects' | 'fits';

declare global {
  var zeroLatchLookThreads: Partial<Record<Kind, Running>> | undefined;
  var zeroLatchLookCount: number | undefined;
}
const threads = (): Partial<Record<Kind, Running>> => (globalThis.zeroLatchLookThreads ??= {});

/** Where the application's threads lie; undefined where it runs without them, as in tests of single parts. */
const folder = (): string | undefined => process.env.ZERO_LATCH_THREADS;

/** The web server has one beside it; the thread itself, and the worker's, look at things where they are. */
export const hasLookThread = (): boolean =>
  folder() !== undefined &&
  process.env.ZERO_LATCH_PROCESS === 'web' &&
  process.getBuiltinModule('node:worker_threads').isMainThread;

/** Starts the thread before anybody looks at anything: its beginning takes a second, which the first wall of pictures would show. */
export function warmLookThread(): void {
  if (hasLookThread()) threads().usual ??= start('usual');
}

type Looked<K extends string> = Extract<FromLookThread, Record<K, unknown>>;
/** What a look of each sort gives. */
interface Gives {
  readonly thumbnail: Looked<'png'>;
  readonly head: Looked<'head'>;
  readonly texels: Looked<'texels'>;
  readonly png: Looked<'png'>;
  readonly pixels: Looked<'pixels'>;
  readonly alpha: Looked<'alpha'>;
  readonly tracks: Looked<'tracks'>;
  readonly script: Looked<'check'>;
  readonly 'texels of': Looked<'texels'>;
  readonly fit: Looked<'prepared'>;
}

/** Hands a look at an entry or a picture to the thread beside the server. Errors come back as they were thrown there. */
export async function lookBeside<S extends LookTask['sort']>(
  task: Extract<LookTask, { sort: S }>,
): Promise<Gives[S]> {
  const answer = await new Promise<FromLookThread>((resolve, reject) => {
    const id = (globalThis.zeroLatchLookCount = (globalThis.zeroLatchLookCount ?? 0) + 1);
    const whole =
      'bytes' in task ? { ...task, along: sentAlong(task.bytes, task.name, mediaScriptFor) } : task;
    hand(task.sort === 'fit' ? 'fits' : 'usual', id, { task: whole, since: 0, resolve, reject });
  });
  if ('format' in answer) throw new FormatError(answer.format.code, answer.format.facts);
  if ('user' in answer) throw new UserError(answer.user.status, answer.user.message);
  if ('failure' in answer) throw new Error(answer.failure);
  return answer as Gives[S];
}

function hand(kind: Kind, id: number, one: Waiting): void {
  const { worker, waiting } = (threads()[kind] ??= start(kind));
  one.since = Date.now();
  waiting.set(id, one);
  worker.postMessage({ id, task: one.task } satisfies ToLookThread);
}

const tooMuch = (kind: Kind): UserError =>
  new UserError(
    422,
    kind === 'fits'
      ? 'It could not be made ready: that took too long, or too much memory. Nothing was changed.'
      : 'It could not be looked at: reading it took too long, or too much memory.',
  );

function start(kind: Kind): Running {
  // Asked for by name, since the bundler of the pages would want to bundle what the thread runs.
  const { Worker: Thread } = process.getBuiltinModule('node:worker_threads');
  const atOnce = kind === 'usual' ? USUALLY_AT_ONCE : 1;
  const workerData: LookThreadData = { atOnce };
  const worker = new Thread(`${folder()!}/look-thread.mjs`, { workerData });
  const waiting = new Map<number, Waiting>();
  /** Looks are begun in their order; the time of those that have not begun does not run. */
  const begun = (): [number, Waiting][] => [...waiting].slice(0, atOnce);
  let rest: NodeJS.Timeout | undefined;
  const watch = setInterval(() => {
    if (begun().some(([, { since }]) => Date.now() - since > (kind === 'fits' ? MOST_FIT_MS : MOST_MS)))
      void worker.terminate();
  }, WATCH_MS);
  watch.unref();
  worker.on('message', (answer: FromLookThread) => {
    const one = waiting.get(answer.id);
    waiting.delete(answer.id);
    for (const [, next] of begun().slice(-1)) next.since = Date.now();
    one?.resolve(answer);
    if (kind === 'usual' || waiting.size > 0) return;
    const end = (): void => {
      if (waiting.size > 0) return;
      if (threads()[kind]?.worker === worker) threads()[kind] = undefined;
      void worker.terminate();
    };
    // Nobody is under suspicion any more; whoever comes to be has a thread of their own.
    if (kind === 'suspects') end();
    else {
      clearTimeout(rest);
      rest = setTimeout(end, REST_MS).unref();
    }
  });
  // One that ends, as for want of memory, is started anew by the next look.
  const ended = (error: Error): void => {
    clearInterval(watch);
    if (threads()[kind]?.worker === worker) threads()[kind] = undefined;
    const suspects = new Map(begun());
    const left = [...waiting];
    waiting.clear();
    for (const [id, one] of left)
      if (!suspects.has(id)) hand(kind, id, one);
      // Of several that were begun each is tried alone, so that what harms nobody is not blamed.
      else if (suspects.size > 1) hand('suspects', id, one);
      else one.reject(error);
  };
  worker.on('error', (error: NodeJS.ErrnoException) =>
    ended(error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? tooMuch(kind) : error),
  );
  worker.on('exit', () => ended(tooMuch(kind)));
  worker.unref();
  return { worker, waiting };
}
