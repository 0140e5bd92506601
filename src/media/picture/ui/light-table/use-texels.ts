'use client';
import { useQuery, type UseQueryResult } from '@tanstack/react-query';
import type { FromTexelWorker, Texels, ToTexelWorker } from './texel-messages';

let worker: Worker | undefined;
let last = 0;
const waiting = new Map<number, (message: FromTexelWorker) => void>();

function ask(url: string): Promise<Texels> {
  if (!worker) {
    worker = new Worker(new URL('./texels.worker.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<FromTexelWorker>) => {
      waiting.get(data.id)?.(data);
      waiting.delete(data.id);
    });
  }
  const id = ++last;
  return new Promise((resolve, reject) => {
    waiting.set(id, (message) => ('error' in message ? reject(new Error(message.error)) : resolve(message)));
    worker!.postMessage({ id, url } satisfies ToTexelWorker);
  });
}

/** Texels behind an address; held only as long as they are looked at, since they may be many. */
export const useTexels = (url: string | undefined): UseQueryResult<Texels> =>
  useQuery({
    queryKey: ['texels', url],
    queryFn: () => ask(url!),
    enabled: url !== undefined,
    gcTime: 0,
    staleTime: Infinity,
    retry: false,
    structuralSharing: false,
  });
