'use client';
import { useQueries } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { Head } from '@/media/head';
import { api } from '../api';
import type { Entries } from './use-entries';

/** Rows that are asked for at a time; a page of the list is a multiple of it. */
const BLOCK = 40;

/** How long scrolling rests before heads are read: what only flies past is not worth it. */
const REST_MS = 120;

/** What the heads of the rows in sight tell, read once the list rests; undefined while they are not known. */
export function useHeads(
  gameId: number,
  entries: Entries,
  first: number,
  last: number,
  enabled: boolean,
): (index: number) => Head | undefined {
  const [resting, setResting] = useState<readonly [number, number]>([first, last]);
  useEffect(() => {
    if (!enabled) return undefined;
    const timer = setTimeout(() => setResting([first, last]), REST_MS);
    return () => clearTimeout(timer);
  }, [first, last, enabled]);
  const from = Math.floor(resting[0] / BLOCK);
  const to = Math.floor(Math.max(...resting) / BLOCK);
  const blocks = enabled ? Array.from({ length: to - from + 1 }, (_, i) => from + i) : [];
  const refs = blocks.map((block) => refsOf(entries, block));
  const answers = useQueries({
    queries: refs.map((of) => ({
      queryKey: ['heads', gameId, of],
      enabled: of !== '',
      staleTime: 60_000,
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        api.get<readonly Head[]>(`games/${gameId}/entries/heads?of=${of}`, signal),
    })),
  });
  return (index) => answers[Math.floor(index / BLOCK) - from]?.data?.[index % BLOCK];
}

function refsOf(entries: Entries, block: number): string {
  const refs: string[] = [];
  for (let i = block * BLOCK; i < Math.min(entries.total, (block + 1) * BLOCK); i++) {
    const item = entries.at(i);
    if (!item) return '';
    refs.push(`${item.archiveId}:${item.index}`);
  }
  return refs.join();
}
