'use client';
import { keepPreviousData, useQueries } from '@tanstack/react-query';
import type { EntryItem, EntryPage } from '@/server/entries';
import { api } from '../api';
import type { ContentsView } from './url-state';

export type { EntryItem };

const PAGE = 200;

export interface Entries {
  readonly total: number;
  readonly bytes: number;
  readonly kinds: Record<string, number>;
  readonly loaded: boolean;
  readonly error: Error | null;
  at(index: number): EntryItem | undefined;
}

/** The entries of a view, fetched in pages as they come into sight. */
export function useEntries(gameId: number, view: ContentsView, first: number, last: number): Entries {
  const { folder, kind, search, archive, sort, order } = view;
  const params = new URLSearchParams(
    Object.entries({ folder, kind, search, archive, sort, order }).filter(([, value]) => value !== ''),
  );
  const from = Math.floor(first / PAGE);
  const to = Math.floor(Math.max(first, last) / PAGE);
  const wanted = [...new Set([0, ...Array.from({ length: to - from + 1 }, (_, i) => from + i)])];
  const pages = useQueries({
    queries: wanted.map((page) => ({
      queryKey: ['entries', gameId, params.toString(), page],
      queryFn: () =>
        api.get<EntryPage>(`games/${gameId}/entries?${params}&offset=${page * PAGE}&limit=${PAGE}`),
      placeholderData: keepPreviousData,
    })),
  });
  const head = pages[0]!;
  return {
    total: head.data?.total ?? 0,
    bytes: head.data?.bytes ?? 0,
    kinds: head.data?.kinds ?? {},
    loaded: head.data !== undefined,
    error: head.error,
    at(index) {
      const page = pages[wanted.indexOf(Math.floor(index / PAGE))];
      return page?.data?.rows[index % PAGE];
    },
  };
}
