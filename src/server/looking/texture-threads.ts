import { availableParallelism } from 'node:os';
import type { Worker } from 'node:worker_threads';
import { findBlockPictures, findSigned, type Guess, type SignedFile } from '@/media/picture/core/carve';
import {
  ditheringLayout,
  encodeHere,
  indexedLayout,
  isIndexed,
  layouts,
  type EncodeImage,
  type IndexedLayout,
  type PixelLayout,
  type Pixels,
  type Quality,
} from '@/media/picture/core/texture';

/** A strip of a picture that a thread encodes. */
export interface StripToEncode {
  readonly id: number;
  readonly layout: string;
  /** Of numbered colours what the layout is made of. */
  readonly indexed?: Pick<IndexedLayout, 'palette' | 'bits' | 'withMask' | 'isMixing'> | undefined;
  readonly quality: Quality;
  readonly width: number;
  readonly height: number;
  readonly texels: Uint8Array;
}

/** Bytes in which a thread looks for pictures. */
export interface BytesToCarve {
  readonly id: number;
  readonly carve: Uint8Array;
}

export type ToTextureThread = StripToEncode | BytesToCarve;

/** Pictures that lie in other bytes. */
export interface Carved {
  readonly files: readonly SignedFile[];
  readonly blocks: readonly Guess[];
}

export type FromTextureThread = { readonly id: number } & (
  { readonly blocks: Uint8Array } | { readonly carved: Carved } | { readonly failure: string }
);

interface Waiting {
  readonly resolve: (answer: FromTextureThread) => void;
  readonly reject: (error: Error) => void;
}

interface Thread {
  readonly worker: Worker;
  readonly waiting: Map<number, Waiting>;
}

declare global {
  var zeroLatchTextureThreads: Thread[] | undefined;
  var zeroLatchTextureCount: number | undefined;
}

/** Smaller pictures are encoded sooner here than they could be sent away. */
const LEAST_TEXELS = 128 * 128;
const STRIP_TEXELS = 256 * 256;
/** Threads that rest for so long end, since each holds memory. */
const REST_MS = 30_000;

const folder = (): string | undefined => process.env.ZERO_LATCH_THREADS;

/** Encodes a picture beside the server, strip by strip on all cores. */
export const encodeBeside: EncodeImage = async (layout, pixels, quality) => {
  const isShort = layout.block === 1 && !isIndexed(layout);
  if (folder() === undefined || isShort || pixels.width * pixels.height < LEAST_TEXELS)
    return encodeHere(layout, pixels, quality);
  const out = new Uint8Array(layout.levelLength(pixels.width, pixels.height));
  // Colours are mixed over all of a picture.
  const rows = layout.isMixing ? pixels.height : Math.max(4, Math.floor(STRIP_TEXELS / pixels.width / 4) * 4);
  const strips: Promise<void>[] = [];
  for (let y = 0; y < pixels.height; y += rows) {
    const height = Math.min(rows, pixels.height - y);
    strips.push(
      strip(layout, pixels, y, height, quality).then((answer) => {
        if ('blocks' in answer) out.set(answer.blocks, layout.levelLength(pixels.width, y));
      }),
    );
  }
  await Promise.all(strips);
  return out;
};

function strip(
  layout: PixelLayout,
  { width, data }: Pixels,
  y: number,
  height: number,
  quality: Quality,
): Promise<FromTextureThread> {
  const texels = data.slice(y * width * 4, (y + height) * width * 4);
  const { palette, bits, withMask, isMixing } = layout as Partial<IndexedLayout>;
  const indexed = isIndexed(layout)
    ? { palette: palette!, bits: bits!, withMask: withMask!, isMixing }
    : undefined;
  return ask((id) => ({ id, layout: layout.name, indexed, quality, width, height, texels }), texels);
}

function ask(
  message: (id: number) => ToTextureThread,
  moved: Uint8Array<ArrayBuffer>,
): Promise<FromTextureThread> {
  const thread = freest();
  const id = (globalThis.zeroLatchTextureCount = (globalThis.zeroLatchTextureCount ?? 0) + 1);
  return new Promise((resolve, reject) => {
    thread.waiting.set(id, { resolve, reject });
    thread.worker.postMessage(message(id), [moved.buffer]);
  });
}

/** Looks for pictures in other bytes, beside the server. */
export async function carveBeside(bytes: Uint8Array): Promise<Carved> {
  if (folder() === undefined) return carve(bytes);
  const copy = bytes.slice();
  const answer = await ask((id) => ({ id, carve: copy }), copy);
  return 'carved' in answer ? answer.carved : { files: [], blocks: [] };
}

/** What of the blocks lies in a picture that is told by its beginning is part of that one. */
function carve(bytes: Uint8Array): Carved {
  const files = findSigned(bytes);
  const isFree = ({ offset, length }: Guess): boolean =>
    files.every((file) => offset >= file.offset + file.length || offset + length <= file.offset);
  return { files, blocks: findBlockPictures(bytes).filter(isFree) };
}

function freest(): Thread {
  const threads = (globalThis.zeroLatchTextureThreads ??= []);
  const idle = threads.find(({ waiting }) => waiting.size === 0);
  if (idle) return idle;
  if (threads.length < availableParallelism()) return start(threads);
  return threads.reduce((a, b) => (b.waiting.size < a.waiting.size ? b : a));
}

function start(threads: Thread[]): Thread {
  // Asked for by name, since the bundler of the pages would want to bundle what the thread runs.
  const { Worker: Thread } = process.getBuiltinModule('node:worker_threads');
  const worker = new Thread(`${folder()!}/texture-thread.mjs`);
  const thread: Thread = { worker, waiting: new Map() };
  let rest: NodeJS.Timeout | undefined;
  worker.on('message', (answer: FromTextureThread) => {
    const waiting = thread.waiting.get(answer.id);
    thread.waiting.delete(answer.id);
    if ('failure' in answer) waiting?.reject(new Error(answer.failure));
    else waiting?.resolve(answer);
    clearTimeout(rest);
    rest = setTimeout(() => {
      if (thread.waiting.size > 0) return;
      threads.splice(threads.indexOf(thread), 1);
      void worker.terminate();
    }, REST_MS).unref();
  });
  const ended = (error: Error): void => {
    if (threads.includes(thread)) threads.splice(threads.indexOf(thread), 1);
    for (const { reject } of thread.waiting.values()) reject(error);
    thread.waiting.clear();
  };
  worker.on('error', ended);
  worker.on('exit', () => ended(new Error('a thread that encodes pictures ended')));
  worker.unref();
  threads.push(thread);
  return thread;
}

/** What a thread does with what it is sent. */
export function answerFor(message: ToTextureThread): FromTextureThread {
  const { id } = message;
  try {
    if ('carve' in message) return { id, carved: carve(message.carve) };
    const { indexed, quality, width, height, texels } = message;
    const plain = indexed
      ? indexedLayout(indexed.palette, indexed.bits, indexed.withMask)
      : layouts.get(message.layout)!;
    const layout = indexed?.isMixing ? ditheringLayout(plain) : plain;
    return { id, blocks: layout.encode!({ width, height, data: texels }, quality) };
  } catch (error) {
    return { id, failure: error instanceof Error ? error.message : String(error) };
  }
}
