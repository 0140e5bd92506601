'use client';
import { useQuery, type UseQueryResult } from '@tanstack/react-query';
import type { EntryItem } from '@/ui/contents/use-entries';
import type { FromPortraitWorker } from './portrait-messages';

interface Waiting {
  readonly url: string;
  readonly signal: AbortSignal;
  resolve(url: string): void;
  reject(error: Error): void;
}

let worker: Worker | undefined;
let current: Waiting | undefined;
const waiting: Waiting[] = [];

/** One is drawn at a time: what came into sight last is drawn first, what has left it is not. */
function next(): void {
  while (!current && waiting.length > 0) {
    const one = waiting.pop()!;
    if (one.signal.aborted) {
      one.reject(new Error('It is not asked for any more'));
      continue;
    }
    current = one;
    worker ??= begin();
    worker.postMessage({ url: one.url, entries: one.url.split('/').slice(0, -2).join('/') });
  }
}

function begin(): Worker {
  const made = new Worker(new URL('./portraits.worker.ts', import.meta.url), { type: 'module' });
  const end = (error: string | undefined): void => {
    const one = current;
    current = undefined;
    if (error === undefined) one?.resolve(`${one.url}/portrait`);
    else one?.reject(new Error(error));
    next();
  };
  made.addEventListener('message', ({ data }: MessageEvent<FromPortraitWorker>) => end(data.error));
  made.addEventListener('error', ({ message }) => {
    worker?.terminate();
    worker = undefined;
    end(message || 'It cannot be drawn here');
  });
  return made;
}

/** The address of a small picture of a model, once there is one. */
export function usePortrait(gameId: number, item: EntryItem): UseQueryResult<string> {
  const url = `/api/games/${gameId}/entries/${item.archiveId}/${item.index}`;
  return useQuery({
    queryKey: ['portrait', url, item.size, item.modified],
    queryFn: ({ signal }) =>
      new Promise<string>((resolve, reject) => {
        waiting.push({ url, signal, resolve, reject });
        next();
      }),
    staleTime: Infinity,
    retry: false,
  });
}
