import type { Mend, Prepared } from '@/core/fit';
import type { FilmHead, Head, SoundHead } from '@/media/head';
import type { Pixels, Place, Rectangle } from '@/media/picture/core/texture';
import type { PrintSettings } from '@/media/model/core/print/settings';
import type { Taken } from '@/media/model/core/take';
import type { ToTake } from '@/media/model/node/take';
import type { PrintFile } from '@/media/model/node/print';
import type { Channel } from '@/media/picture/node/pictures';
import type { SoundEdit } from '@/media/sound/core/edit';
import type { JoinPart } from '@/media/sound/node/joins';
import type { ExchangeForm, ExchangeTongues, GivenLine, ReadLines } from '@/media/text/node/exchange';
import { sentAlong, type SentAlong } from '@/platform/node/media-scripts';
import { hasThreads, poolOf, type ThreadPool } from '@/platform/node/threads/pool';
import type { ScriptCheck } from '../opening/own-scripts';
import { mediaScriptFor } from '../opening/scripts';
import type { LinesAsked } from '../desk/write-lines';
import type { TableAsked } from '../reading/write-beside';
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

/** Bytes that are looked at, whatever they are wrapped in. */
interface LookedBytes {
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
/** What is given for a slot; `bytes` and `name` are those of the slot. */
export interface FitAsked extends LookedBytes {
  /** What the slot counts as. */
  readonly kind: string;
  readonly given: Uint8Array;
  readonly givenName: string;
  readonly mends: readonly Mend[];
}
export interface PartAsked {
  readonly place: Place;
  readonly part: Rectangle | undefined;
}
export interface TexelsLooked {
  readonly pixels: Pixels;
  readonly facts: TexelFacts;
}
/** `most` bytes are held at most. */
export type HeadAsked = Which & { readonly most?: number; readonly loose?: LooseAt };
export type TexelsAsked = Which & PartAsked;

/** What is asked of the threads that look at things; PNGs are their bytes. */
export type LookRequests = {
  readonly thumbnail: { readonly asks: Which & { readonly most: number }; readonly gives: Uint8Array };
  readonly head: { readonly asks: HeadAsked; readonly gives: Head };
  readonly texels: { readonly asks: TexelsAsked; readonly gives: TexelsLooked };
  readonly script: { readonly asks: string; readonly gives: ScriptCheck };
  readonly png: { readonly asks: LookedBytes & ShownAs; readonly gives: Uint8Array };
  readonly pixels: { readonly asks: LookedBytes & { readonly place: Place }; readonly gives: Pixels };
  /** A model, packed to be drawn. */
  readonly form: { readonly asks: LookedBytes; readonly gives: Uint8Array };
  /** The same as it is to be printed, and a file of its pieces. */
  readonly print: {
    readonly asks: LookedBytes & { readonly settings: PrintSettings };
    readonly gives: Uint8Array;
  };
  readonly printFile: {
    readonly asks: LookedBytes & { readonly settings: PrintSettings; readonly as: PrintFile };
    readonly gives: { readonly bytes: Uint8Array; readonly ending: string };
  };
  /** A model as it is taken out, and what is told of that before. */
  readonly taken: { readonly asks: ToTake; readonly gives: Taken };
  readonly takeModel: {
    readonly asks: ToTake;
    readonly gives: { readonly bytes: Uint8Array; readonly ending: string };
  };
  readonly alpha: { readonly asks: LookedBytes; readonly gives: boolean };
  readonly tracks: { readonly asks: LookedBytes; readonly gives: SoundHead | FilmHead | undefined };
  readonly texelsOf: { readonly asks: LookedBytes & PartAsked; readonly gives: TexelsLooked };
  readonly fit: { readonly asks: FitAsked; readonly gives: Prepared };
  /** A sound after some edits. */
  readonly edited: {
    readonly asks: LookedBytes & { readonly edits: readonly SoundEdit[] };
    readonly gives: Uint8Array;
  };
  /** The tables of an entry, laid down. */
  readonly tables: {
    readonly asks: Which & { readonly path: string; readonly isLines: boolean };
    readonly gives: Uint8Array;
  };
  /** Those of bytes, and a file of tables with something written into it. */
  readonly tablesOf: {
    readonly asks: LookedBytes & { readonly isLines: boolean };
    readonly gives: Uint8Array;
  };
  readonly tableWritten: { readonly asks: TableAsked; readonly gives: Uint8Array };
  /** A table of texts with lines of the desk. */
  readonly linesPutIn: { readonly asks: LinesAsked; readonly gives: Uint8Array };
  /** Sounds one after the other, as one. */
  readonly joined: { readonly asks: { readonly parts: readonly JoinPart[] }; readonly gives: Uint8Array };
  /** Lines of texts out of a file, and as one. */
  readonly linesRead: {
    readonly asks: { readonly given: Uint8Array; readonly givenName: string };
    readonly gives: ReadLines;
  };
  readonly linesWritten: {
    readonly asks: {
      readonly form: ExchangeForm;
      readonly lines: readonly GivenLine[];
      readonly tongues: ExchangeTongues;
    };
    readonly gives: Uint8Array;
  };
};

/** A look that takes longer ends the thread; whoever asked for it is told so. */
const MOST_MS = 30_000;
/** While one waits for the database, or its PNG is written by the package's own threads, the next is read; more would only take memory. */
const AT_ONCE = 3;
/** What is coded anew takes longer than what is looked at: a large picture in the best quality, an hour of sound. */
const MOST_FIT_MS = 20 * 60_000;
/** A table of 64 MB, as it is written by hand, takes some of this. */
const MOST_TABLES_MS = 2 * 60_000;
/** A thread that fits rests so long before it ends, since it holds memory. */
const REST_MS = 60_000;

const looks = (): ThreadPool<LookRequests> =>
  poolOf('looks', () => ({
    script: 'look-thread',
    most: 1,
    atOnce: AT_ONCE,
    mostMs: MOST_MS,
    tooMuch: () =>
      new UserError(422, 'It could not be looked at: reading it took too long, or too much memory.'),
  }));

/** A thread of its own in which what is given is made ready for its slot, so that no look waits for that. */
const fits = (): ThreadPool<LookRequests> =>
  poolOf('fits', () => ({
    script: 'look-thread',
    most: 1,
    mostMs: MOST_FIT_MS,
    restMs: REST_MS,
    tooMuch: () =>
      new UserError(
        422,
        'It could not be made ready: that took too long, or too much memory. Nothing was changed.',
      ),
  }));

/** A thread of its own for large tables, so that no picture waits for them. */
const tables = (): ThreadPool<LookRequests> =>
  poolOf('tables', () => ({
    script: 'look-thread',
    most: 1,
    mostMs: MOST_TABLES_MS,
    restMs: REST_MS,
    tooMuch: () =>
      new UserError(422, 'Its tables could not be read: that took too long, or too much memory.'),
  }));

/** What makes something new takes its time. */
const MAKING: ReadonlySet<keyof LookRequests> = new Set([
  'fit',
  'edited',
  'joined',
  'print',
  'printFile',
  'takeModel',
  'linesRead',
  'linesWritten',
  'tablesOf',
  'tableWritten',
  'linesPutIn',
]);

/** The web server has one beside it; the thread itself, and the worker's, look at things where they are. */
export const hasLookThread = (): boolean =>
  hasThreads() &&
  process.env.ZERO_LATCH_PROCESS === 'web' &&
  process.getBuiltinModule('node:worker_threads').isMainThread;

/** Starts the thread before anybody looks at anything: its beginning takes a second, which the first wall of pictures would show. */
export function warmLookThread(): void {
  if (hasLookThread()) looks().warm();
}

/** Hands a look at an entry or at bytes to the thread beside the server. Errors come back as they were thrown there. */
export function lookBeside<K extends keyof LookRequests>(
  sort: K,
  asked: LookRequests[K]['asks'],
): Promise<LookRequests[K]['gives']> {
  const whole =
    typeof asked === 'object' && 'bytes' in asked
      ? { ...asked, along: sentAlong(asked.bytes, asked.name, mediaScriptFor) }
      : asked;
  const pool = sort === 'tables' ? tables() : MAKING.has(sort) ? fits() : looks();
  return pool.ask(sort, whole);
}
