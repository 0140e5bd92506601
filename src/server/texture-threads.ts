import { availableParallelism } from 'node:os';
import type { Worker } from 'node:worker_threads';
import {
  encodeHere,
  layouts,
  type EncodeImage,
  type PixelLayout,
  type Pixels,
  type Quality,
} from '@/core/media/texture';

/** A strip of a picture that a thread encodes. */
export interface ToTextureThread {
  readonly id: number;
  readonly layout: string;
  readonly quality: Quality;
  readonly width: number;
  readonly height: number;
  readonly texels: Uint8Array;
}

export type FromTextureThread = { readonly id: number } & (
  { readonly blocks: Uint8Array } | { readonly failure: string }
);

interface Waiting {
  readonly resolve: (blocks: Uint8Array) => void;
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
  if (folder() === undefined || layout.block === 1 || pixels.width * pixels.height < LEAST_TEXELS)
    return encodeHere(layout, pixels, quality);
  const out = new Uint8Array(layout.levelLength(pixels.width, pixels.height));
  const rows = Math.max(4, Math.floor(STRIP_TEXELS / pixels.width / 4) * 4);
  const strips: Promise<void>[] = [];
  for (let y = 0; y < pixels.height; y += rows) {
    const height = Math.min(rows, pixels.height - y);
    strips.push(
      strip(layout, pixels, y, height, quality).then((blocks) => {
        out.set(blocks, layout.levelLength(pixels.width, y));
      }),
    );
  }
  await Promise.all(strips);
  return out;
};

function strip(
  { name }: PixelLayout,
  { width, data }: Pixels,
  y: number,
  height: number,
  quality: Quality,
): Promise<Uint8Array> {
  const thread = freest();
  const id = (globalThis.zeroLatchTextureCount = (globalThis.zeroLatchTextureCount ?? 0) + 1);
  const texels = data.slice(y * width * 4, (y + height) * width * 4);
  return new Promise((resolve, reject) => {
    thread.waiting.set(id, { resolve, reject });
    const message: ToTextureThread = { id, layout: name, quality, width, height, texels };
    thread.worker.postMessage(message, [texels.buffer]);
  });
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
    if ('blocks' in answer) waiting?.resolve(answer.blocks);
    else waiting?.reject(new Error(answer.failure));
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

/** What a thread does with a strip. */
export function encodeStrip({ id, layout, quality, ...pixels }: ToTextureThread): FromTextureThread {
  const { width, height, texels } = pixels;
  try {
    return { id, blocks: layouts.get(layout)!.encode!({ width, height, data: texels }, quality) };
  } catch (error) {
    return { id, failure: error instanceof Error ? error.message : String(error) };
  }
}
